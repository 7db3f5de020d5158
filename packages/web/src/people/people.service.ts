import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { ChangeRep, People } from '@relvik/contracts';
import type { Observable } from 'rxjs';

@Injectable({ providedIn: 'root' })
export class PeopleService {
  private readonly http = inject(HttpClient);

  people(): Observable<People> {
    return this.http.get<People>('/api/people');
  }

  change(key: string, change: ChangeRep): Observable<People> {
    return this.http.patch<People>(`/api/people/${encodeURIComponent(key)}`, change);
  }
}
