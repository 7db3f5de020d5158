import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Bay, BayAlarm } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Reads the bay and sets its alarm. */
@Injectable({ providedIn: 'root' })
export class BayService {
  private readonly http = inject(HttpClient);

  bay(): Observable<Bay> {
    return this.http.get<Bay>('/api/bay');
  }

  /** After how many hours operations is told of a lead that waits. */
  setAlarm(alarm: BayAlarm): Observable<Bay> {
    return this.http.put<Bay>('/api/bay/alarm', alarm);
  }
}
