import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { ChooseRedraw, Redraw } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Leads with an owner after their territories were redrawn. */
@Injectable({ providedIn: 'root' })
export class RedrawService {
  private readonly http = inject(HttpClient);

  latest(): Observable<Redraw> {
    return this.http.get<Redraw>('/api/redraw');
  }

  choose(choice: ChooseRedraw): Observable<Redraw> {
    return this.http.post<Redraw>('/api/redraw', choice);
  }

  undo(charter: number): Observable<Redraw> {
    return this.http.post<Redraw>('/api/redraw/undo', { charter });
  }
}
