import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Tagged, TagMany } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import type { Observable } from 'rxjs';
import { pathOf } from '../wording/kind-words';

/** Tags of records. */
@Injectable({ providedIn: 'root' })
export class TagService {
  private readonly http = inject(HttpClient);

  /** Puts tags on records of a kind and takes tags off. */
  tag(kind: RecordKind, tags: TagMany): Observable<Tagged> {
    return this.http.post<Tagged>(`/api${pathOf(kind)}/tags`, tags);
  }
}
