import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { BackgroundState } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** What goes on in the background. */
@Injectable({ providedIn: 'root' })
export class BackgroundService {
  private readonly http = inject(HttpClient);

  state(): Observable<BackgroundState> {
    return this.http.get<BackgroundState>('/api/background');
  }

  sendAgain(id: number): Observable<BackgroundState> {
    return this.http.post<BackgroundState>(`/api/outbox/${id}/again`, {});
  }

  tryAgain(work: string, record: number | null): Observable<BackgroundState> {
    return this.http.post<BackgroundState>('/api/failures/again', { work, record: record ?? 0 });
  }
}
