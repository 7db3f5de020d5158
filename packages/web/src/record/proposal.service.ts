import { HttpClient, HttpParams } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type {
  DecideProposals,
  DoneEach,
  GateConcordance,
  PastProposal,
  ProposalDetail,
  ProposalPage,
  ProposalQuery,
} from '@relvik/contracts';
import { type Observable, tap } from 'rxjs';

/** Proposals: what gates ask people, and what these decide. */
@Injectable({ providedIn: 'root' })
export class ProposalService {
  private readonly http = inject(HttpClient);
  private readonly waiting = signal(0);
  /** How many the user is to decide. */
  readonly count = this.waiting.asReadonly();

  load(): void {
    this.http.get<{ count: number }>('/api/proposal-count').subscribe({
      next: ({ count }) => {
        this.waiting.set(count);
      },
      // A count that can't be told is left as it was: no page waits for it.
      error: () => undefined,
    });
  }

  page(query: ProposalQuery): Observable<ProposalPage> {
    const { order = 'oldest', page = 0, gate } = query;
    const params = new HttpParams({ fromObject: { order, page, ...(gate === undefined ? {} : { gate }) } });
    return this.http.get<ProposalPage>('/api/proposals', { params });
  }

  one(id: number): Observable<ProposalDetail> {
    return this.http.get<ProposalDetail>(`/api/proposals/${id}`);
  }

  decide(decisions: DecideProposals): Observable<DoneEach> {
    return this.counted(this.http.post<DoneEach>('/api/proposals/decide', decisions));
  }

  /** Takes the rule’s pick of one. */
  takePick({ id, pick }: PastProposal): Observable<DoneEach> {
    return this.decide({ decisions: [{ id, answer: pick }] });
  }

  undo(ids: readonly number[]): Observable<DoneEach> {
    return this.counted(this.http.post<DoneEach>('/api/proposals/undo', { ids }));
  }

  concordance(gate: string): Observable<GateConcordance> {
    return this.http.get<GateConcordance>('/api/concordance', { params: { gate } });
  }

  private counted<T>(work: Observable<T>): Observable<T> {
    return work.pipe(
      tap(() => {
        this.load();
      }),
    );
  }
}
