import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ActivityOutcome,
  ImportReport,
  ImportState,
  IntakeState,
  MadeKey,
  NewKey,
  PublicForm,
  SentForm,
  WayInSettings,
} from '@relvik/contracts';
import type { Handling, RecordKind } from '@relvik/core';
import type { Observable } from 'rxjs';

/** A form, or a key for another system. */
export type WayInName = { readonly form: string } | { readonly key: number };

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

  change(way: WayInName, settings: WayInSettings): Observable<unknown> {
    const place = 'form' in way ? `forms/${way.form}` : `keys/${way.key}`;
    return this.http.patch(`/api/intake/${place}`, settings);
  }

  /** Sets how far rules are asked of leads typed in or edited by hand. */
  changeByHand(handling: Handling): Observable<unknown> {
    return this.http.patch('/api/intake/by-hand', { handling });
  }

  revokeKey(id: number): Observable<unknown> {
    return this.http.delete(`/api/intake/keys/${id}`);
  }

  /** Sends a file of records of a kind; its rows are taken in afterwards. */
  sendFile(kind: RecordKind, name: string, text: string, handling: Handling): Observable<ImportState> {
    return this.http.post<ImportState>('/api/intake/csv', text, {
      params: { kind, handling, name: name.slice(0, 200) },
      headers: { 'Content-Type': 'text/csv' },
    });
  }

  imports(): Observable<ImportState[]> {
    return this.http.get<ImportState[]>('/api/imports');
  }

  importReport(id: number): Observable<ImportReport> {
    return this.http.get<ImportReport>(`/api/imports/${id}`);
  }

  undoImport(id: number): Observable<ImportReport> {
    return this.http.post<ImportReport>(`/api/imports/${id}/undo`, {});
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
