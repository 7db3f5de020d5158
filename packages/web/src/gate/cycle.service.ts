import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Cycle } from '@relvik/core';
import { type Observable, shareReplay } from 'rxjs';

/** The usual sales cycle, asked for once. */
@Injectable({ providedIn: 'root' })
export class CycleService {
  private readonly asked = inject(HttpClient).get<Cycle>('/api/cycle').pipe(shareReplay(1));

  cycle(): Observable<Cycle> {
    return this.asked;
  }
}
