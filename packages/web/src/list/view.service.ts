import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { SavedView, SaveView } from '@relvik/contracts';
import { type Observable, tap } from 'rxjs';

/** Lists kept under a name: one's own, and those that others share. */
@Injectable({ providedIn: 'root' })
export class ViewService {
  private readonly http = inject(HttpClient);
  private readonly kept = signal<readonly SavedView[]>([]);
  readonly views = this.kept.asReadonly();

  load(): void {
    this.take(this.http.get<SavedView[]>('/api/views')).subscribe({ error: () => undefined });
  }

  save(view: SaveView, id: number | null): Observable<readonly SavedView[]> {
    return this.take(
      id === null
        ? this.http.post<SavedView[]>('/api/views', view)
        : this.http.put<SavedView[]>(`/api/views/${id}`, view),
    );
  }

  remove(id: number): Observable<readonly SavedView[]> {
    return this.take(this.http.delete<SavedView[]>(`/api/views/${id}`));
  }

  private take(answer: Observable<SavedView[]>): Observable<readonly SavedView[]> {
    return answer.pipe(
      tap((views) => {
        this.kept.set(views);
      }),
    );
  }
}
