import { HttpClient, HttpParams } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  Accepted,
  CloseLead,
  Curve,
  DoneEach,
  Give,
  GiveBack,
  Given,
  JoinPreview,
  LeadRow,
  LeadDetail,
  LeadPage,
  LeadQuery,
  MoveLeads,
  Pin,
  NewLead,
  NoteActivity,
  Reasoning,
} from '@relvik/contracts';
import type { Handling, Raw } from '@relvik/core';
import { map, type Observable } from 'rxjs';

function paramsOf(query: LeadQuery): HttpParams {
  const given = Object.entries(query as Record<string, string | number | undefined>).filter(
    ([, value]) => value !== undefined,
  );
  return new HttpParams({ fromObject: Object.fromEntries(given.map(([key, value]) => [key, String(value)])) });
}

/** Leads: lists, one lead, and what people do with it. */
@Injectable({ providedIn: 'root' })
export class LeadService {
  private readonly http = inject(HttpClient);

  page(query: LeadQuery): Observable<LeadPage> {
    return this.http.get<LeadPage>('/api/leads', { params: paramsOf(query) });
  }

  count(query: LeadQuery): Observable<number> {
    return this.http
      .get<{ count: number }>('/api/lead-count', { params: paramsOf(query) })
      .pipe(map(({ count }) => count));
  }

  /** Where the same list is to be had as a file. */
  fileOf(query: LeadQuery): string {
    return `/api/leads.csv?${paramsOf(query).toString()}`;
  }

  one(id: number): Observable<LeadDetail> {
    return this.http.get<LeadDetail>(`/api/leads/${id}`);
  }

  reasoning(id: number): Observable<Reasoning> {
    return this.http.get<Reasoning>(`/api/leads/${id}/reasoning`);
  }

  /** @param once the same for each try of one lead: it is taken in once */
  bringIn(lead: NewLead, once: string): Observable<Accepted> {
    return this.http.post<Accepted>('/api/leads', lead, { headers: { 'Idempotency-Key': once } });
  }

  joinPreview(id: number, other: number): Observable<JoinPreview<LeadRow>> {
    return this.http.get<JoinPreview<LeadRow>>(`/api/leads/${id}/join/${other}`);
  }

  join(id: number, other: number, take: readonly string[]): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/join`, { other, take });
  }

  undoJoin(id: number): Observable<LeadDetail> {
    return this.http.delete<LeadDetail>(`/api/joins/${id}`);
  }

  removeTest(id: number): Observable<unknown> {
    return this.http.delete(`/api/leads/${id}/test`);
  }

  edit(id: number, version: number, values: Record<string, Raw>, handling: Handling): Observable<LeadDetail> {
    return this.http.patch<LeadDetail>(`/api/leads/${id}`, { version, values, handling });
  }

  /** Takes over what was said of a field, or leaves what is known. */
  settleSaid(id: number, field: string, take: boolean): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/said`, { field, take });
  }

  note(id: number, activity: NoteActivity): Observable<unknown> {
    return this.http.post(`/api/leads/${id}/activities`, activity);
  }

  curve(id: number): Observable<Curve> {
    return this.http.get<Curve>(`/api/leads/${id}/curve`);
  }

  /** Moves leads to another stage by hand, each by itself. */
  move(moves: MoveLeads): Observable<DoneEach> {
    return this.http.post<DoneEach>('/api/leads/move', moves);
  }

  /** Gives leads away by hand. */
  give(give: Give): Observable<Given> {
    return this.http.post<Given>('/api/leads/give', give);
  }

  /** Predicts {@link give}. */
  givePreview(give: Give): Observable<Given> {
    return this.http.post<Given>('/api/leads/give-preview', give);
  }

  /** Pins leads to a territory, or unpins them. */
  pin(pin: Pin): Observable<DoneEach> {
    return this.http.post<DoneEach>('/api/leads/pin', pin);
  }

  pickUp(id: number): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/pick-up`, {});
  }

  /** Gives a lead back to the queue from which it was picked up. */
  accept(id: number): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/accept`, {});
  }

  giveBack(id: number, back: GiveBack): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/give-back`, back);
  }

  close(id: number, closing: CloseLead): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/leads/${id}/close`, closing);
  }
}
