import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  DealSums,
  EditRecord,
  FoundRecord,
  JoinPreview,
  KnownBy,
  LeadsMade,
  MakeLeads,
  MoveDeal,
  NewRecord,
  NoteActivity,
  RecordRow,
  RecordDetail,
  RecordPage,
  RecordQuery,
  SuggestionRow,
} from '@relvik/contracts';
import type { TieKind, UnroutedKind } from '@relvik/core';
import { map, type Observable } from 'rxjs';
import { pathOf } from '../wording/kind-words';

function paramsOf(query: RecordQuery): Record<string, string | number> {
  return Object.fromEntries(
    Object.entries(query).filter(
      (one): one is [string, string | number] => ![undefined, ''].includes(one[1] as string | undefined),
    ),
  );
}

/** Contacts, companies and deals: pages of them, one, and what people do with them. */
@Injectable({ providedIn: 'root' })
export class RecordService {
  private readonly http = inject(HttpClient);

  private api(kind: UnroutedKind): string {
    return `/api${pathOf(kind)}`;
  }

  page(kind: UnroutedKind, query: RecordQuery): Observable<RecordPage> {
    return this.http.get<RecordPage>(this.api(kind), { params: paramsOf(query) });
  }

  count(kind: UnroutedKind, query: RecordQuery): Observable<number> {
    return this.http
      .get<{ count: number }>(`/api/${kind}-count`, { params: paramsOf(query) })
      .pipe(map(({ count }) => count));
  }

  makeLeads(kind: TieKind, making: MakeLeads): Observable<LeadsMade> {
    return this.http.post<LeadsMade>(`${this.api(kind)}/leads`, making);
  }

  dealSums(query: RecordQuery): Observable<DealSums> {
    return this.http.get<DealSums>('/api/deal-sums', { params: paramsOf(query) });
  }

  /** The address of a list as a file. */
  fileOf(kind: UnroutedKind, query: RecordQuery): string {
    const params = Object.entries(paramsOf(query)).map(([key, value]): [string, string] => [key, String(value)]);
    return `${this.api(kind)}.csv?${new URLSearchParams(params).toString()}`;
  }

  one(kind: UnroutedKind, id: number): Observable<RecordDetail> {
    return this.http.get<RecordDetail>(`${this.api(kind)}/${id}`);
  }

  make(kind: UnroutedKind, record: NewRecord): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(this.api(kind), record);
  }

  edit(kind: UnroutedKind, id: number, edit: EditRecord): Observable<RecordDetail> {
    return this.http.patch<RecordDetail>(`${this.api(kind)}/${id}`, edit);
  }

  give(kind: UnroutedKind, id: number, owner: string | null): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`${this.api(kind)}/${id}/owner`, { owner });
  }

  settleSaid(kind: UnroutedKind, id: number, field: string, take: boolean): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`${this.api(kind)}/${id}/said`, { field, take });
  }

  note(kind: UnroutedKind, id: number, activity: NoteActivity): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`${this.api(kind)}/${id}/activities`, activity);
  }

  move(id: number, move: MoveDeal): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`/api/deals/${id}/stage`, move);
  }

  knowBy(id: number, known: KnownBy): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`/api/companies/${id}/known-by`, known);
  }

  forgetBy(id: number, known: KnownBy): Observable<RecordDetail> {
    return this.http.delete<RecordDetail>(`/api/companies/${id}/known-by`, { body: known });
  }

  joinPreview(kind: TieKind, id: number, other: number): Observable<JoinPreview<RecordRow>> {
    return this.http.get<JoinPreview<RecordRow>>(`${this.api(kind)}/${id}/join/${other}`);
  }

  /** Answers with the one that is left. */
  join(kind: TieKind, id: number, other: number, take: readonly string[]): Observable<RecordDetail> {
    return this.http.post<RecordDetail>(`${this.api(kind)}/${id}/join`, { other, take });
  }

  /** Takes one that was joined into another apart from it again. */
  undoJoin(kind: TieKind, younger: number): Observable<RecordDetail> {
    return this.http.delete<RecordDetail>(`${this.api(kind)}/${younger}/joined`);
  }

  suggestions(): Observable<readonly SuggestionRow[]> {
    return this.http.get<readonly SuggestionRow[]>('/api/suggestions');
  }

  /** The two are not one; they are not suggested again. */
  refuseSuggestion(id: number): Observable<readonly SuggestionRow[]> {
    return this.http.delete<readonly SuggestionRow[]>(`/api/suggestions/${id}`);
  }

  find(text: string): Observable<readonly FoundRecord[]> {
    return this.http.get<readonly FoundRecord[]>('/api/find', { params: { text } });
  }
}
