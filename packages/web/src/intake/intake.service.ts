import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ActivityOutcome,
  FileOutcome,
  IntakeState,
  MadeKey,
  NewKey,
  PublicForm,
  SentForm,
} from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Ways in. */
@Injectable({ providedIn: 'root' })
export class IntakeService {
  private readonly http = inject(HttpClient);

  state(): Observable<IntakeState> {
    return this.http.get<IntakeState>('/api/intake');
  }

  makeKey(key: NewKey): Observable<MadeKey> {
    return this.http.post<MadeKey>('/api/intake/keys', key);
  }

  revokeKey(id: number): Observable<unknown> {
    return this.http.delete(`/api/intake/keys/${id}`);
  }

  sendFile(text: string): Observable<FileOutcome> {
    return this.http.post<FileOutcome>('/api/intake/csv', text, { headers: { 'Content-Type': 'text/csv' } });
  }

  sendActivities(text: string): Observable<ActivityOutcome> {
    return this.http.post<ActivityOutcome>('/api/intake/activities/csv', text, {
      headers: { 'Content-Type': 'text/csv' },
    });
  }

  form(slug: string): Observable<PublicForm> {
    return this.http.get<PublicForm>(`/api/forms/${encodeURIComponent(slug)}`);
  }

  sendForm(slug: string, sent: SentForm): Observable<unknown> {
    return this.http.post(`/api/forms/${encodeURIComponent(slug)}`, sent);
  }
}
