import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Tagged, TagLeads } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Tags of records. */
@Injectable({ providedIn: 'root' })
export class TagService {
  private readonly http = inject(HttpClient);

  /** Puts tags on leads and takes tags off. */
  tag(tags: TagLeads): Observable<Tagged> {
    return this.http.post<Tagged>('/api/leads/tags', tags);
  }
}
