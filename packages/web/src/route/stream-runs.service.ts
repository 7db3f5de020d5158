import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { RunPreview, ScheduledStream, StreamRun } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Runs of streams that have a schedule. */
@Injectable({ providedIn: 'root' })
export class StreamRunsService {
  private readonly http = inject(HttpClient);

  scheduled(): Observable<ScheduledStream[]> {
    return this.http.get<ScheduledStream[]>('/api/streams/scheduled');
  }

  preview(stream: string): Observable<RunPreview> {
    return this.http.get<RunPreview>(`/api/streams/${stream}/run-preview`);
  }

  begin(stream: string): Observable<StreamRun> {
    return this.http.post<StreamRun>(`/api/streams/${stream}/run`, {});
  }

  stop(id: number): Observable<StreamRun> {
    return this.http.post<StreamRun>(`/api/stream-runs/${id}/stop`, {});
  }
}
