import { HttpClient, HttpParams } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { ChangeTask, EndTask, NewTask, TaskCounts, TaskPage, TaskQuery, TaskRow } from '@relvik/contracts';
import { type Observable, tap } from 'rxjs';

/** Tasks, and how many the user should have done by now. */
@Injectable({ providedIn: 'root' })
export class TaskService {
  private readonly http = inject(HttpClient);
  private readonly counted = signal<TaskCounts>({ open: 0, overdue: 0 });
  /** Of the user, of this moment's last look. */
  readonly counts = this.counted.asReadonly();

  load(): void {
    this.http.get<TaskCounts>('/api/task-count').subscribe({
      next: (counts) => {
        this.counted.set(counts);
      },
      // A count that can't be told is left as it was: no page waits for it.
      error: () => undefined,
    });
  }

  page(query: TaskQuery): Observable<TaskPage> {
    return this.http.get<TaskPage>('/api/tasks', { params: new HttpParams({ fromObject: { ...query } }) });
  }

  make(task: NewTask): Observable<{ id: number }> {
    return this.after(this.http.post<{ id: number }>('/api/tasks', task));
  }

  change({ id, version }: TaskRow, change: Omit<ChangeTask, 'version'>): Observable<unknown> {
    return this.after(this.http.patch(`/api/tasks/${id}`, { version, ...change }));
  }

  end({ id, version }: TaskRow, end: Omit<EndTask, 'version'>): Observable<unknown> {
    return this.after(this.http.post(`/api/tasks/${id}/end`, { version, ...end }));
  }

  reopen({ id, version }: TaskRow): Observable<unknown> {
    return this.after(this.http.post(`/api/tasks/${id}/reopen`, { version }));
  }

  private after<T>(work: Observable<T>): Observable<T> {
    return work.pipe(
      tap(() => {
        this.load();
      }),
    );
  }
}
