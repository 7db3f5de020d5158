import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Enact, Job } from '@relvik/contracts';
import { EMPTY, type Observable, switchMap, takeWhile, tap, timer } from 'rxjs';
import { CharterService } from '../charter/charter.service';

/** Enacting, and the rescore that follows. */
@Injectable({ providedIn: 'root' })
export class RescoreService {
  private readonly http = inject(HttpClient);
  private readonly charters = inject(CharterService);

  /** Enacts the draft as it stands, what was just typed included; emits the rescore's progress until it ends. */
  enact(how: Omit<Enact, 'version'>): Observable<Job> {
    return this.charters
      .afterSaving(() => {
        const draft = this.charters.draft();
        if (draft === null) return EMPTY;
        return this.http.post<Job>(`/api/drafts/${draft.id}/enact`, { ...how, version: draft.version });
      })
      .pipe(
        tap(() => {
          this.charters.load();
        }),
        switchMap(() => this.progress()),
      );
  }

  cancel(job: number): Observable<Job> {
    return this.http.post<Job>(`/api/jobs/${job}/cancel`, {});
  }

  /** The latest rescore, again and again until it has ended. */
  progress(): Observable<Job> {
    return timer(0, 400).pipe(
      switchMap(() => this.http.get<Job | null>('/api/jobs/latest')),
      takeWhile((job): job is Job => job !== null),
      takeWhile((job) => job.state === 'running', true),
    );
  }
}
