import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { Distribution, Home } from '@relvik/contracts';
import type { Observable } from 'rxjs';
import { asLoaded, LOADING, type Loaded } from '../api/loaded';

/** Counts: those of the course and home page are kept, since every page of the frame shows them. */
@Injectable({ providedIn: 'root' })
export class HomeService {
  private readonly http = inject(HttpClient);
  private readonly loaded = signal<Loaded<Home>>(LOADING);
  readonly home = this.loaded.asReadonly();

  load(): void {
    asLoaded(this.http.get<Home>('/api/home')).subscribe((home) => {
      if (home.state !== 'loading' || this.loaded().state !== 'ready') this.loaded.set(home);
    });
  }

  /** Open leads by their score of one set. */
  distribution(set: string): Observable<Distribution> {
    return this.http.get<Distribution>(`/api/score-sets/${set}/distribution`);
  }
}
