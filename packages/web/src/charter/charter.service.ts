import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { CharterState, Job, ProblemDocument, RuleCounts, SaveDraft } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import {
  catchError,
  EMPTY,
  finalize,
  type Observable,
  of,
  Subject,
  concatMap,
  switchMap,
  takeWhile,
  tap,
  timer,
} from 'rxjs';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';

/** A change to the draft: from the charter as it is to the charter as it shall be. */
export type Change = (charter: Charter) => Charter;

/** The charter in force and the open draft, kept for all pages; saves one change after the other. */
@Injectable({ providedIn: 'root' })
export class CharterService {
  private readonly http = inject(HttpClient);
  private readonly loaded = signal<Loaded<CharterState>>(LOADING);
  private readonly changes = new Subject<Change>();

  readonly state = this.loaded.asReadonly();
  readonly inForce = computed(() => valueOf(this.loaded())?.inForce ?? null);
  readonly draft = computed(() => valueOf(this.loaded())?.draft ?? null);
  /** What the pages of the course show and edit: the draft, else what is in force. */
  readonly shown = computed(() => this.draft()?.charter ?? this.inForce()?.charter ?? null);
  readonly saving = signal(false);
  /** Why the last change was not saved. */
  readonly problem = signal<ProblemDocument | null>(null);

  constructor() {
    this.changes.pipe(concatMap((change) => this.save(change))).subscribe();
  }

  load(): void {
    asLoaded(this.http.get<CharterState>('/api/charters')).subscribe((state) => {
      if (state.state !== 'loading' || this.loaded().state !== 'ready') this.loaded.set(state);
    });
  }

  /** Saves a change to the draft; a refused one is said in `problem` and the draft stays as it was. */
  change(change: Change): void {
    this.changes.next(change);
  }

  private save(change: Change): Observable<unknown> {
    const draft = this.draft();
    if (draft === null) return EMPTY;
    const body: SaveDraft = { version: draft.version, charter: change(draft.charter) };
    this.saving.set(true);
    return this.taking(this.http.put<CharterState>(`/api/drafts/${draft.id}`, body)).pipe(
      finalize(() => {
        this.saving.set(false);
      }),
    );
  }

  beginDraft(name: string): Observable<unknown> {
    return this.taking(this.http.post<CharterState>('/api/drafts', { name }));
  }

  discardDraft(): Observable<unknown> {
    return this.taking(this.http.delete<CharterState>(`/api/drafts/${this.draft()?.id ?? 0}`));
  }

  private taking(answer: Observable<CharterState>): Observable<unknown> {
    return answer.pipe(
      tap((state) => {
        this.problem.set(null);
        this.loaded.set({ state: 'ready', value: state });
      }),
      catchError((error: unknown) => {
        this.problem.set(problemOf(error));
        return of(null);
      }),
    );
  }

  /** Enacts the draft; emits the rescore's progress until it ends. */
  enact(reason: string): Observable<Job> {
    const draft = this.draft();
    if (draft === null) return EMPTY;
    return this.http.post<Job>(`/api/drafts/${draft.id}/enact`, { version: draft.version, reason }).pipe(
      tap(() => {
        this.load();
      }),
      switchMap(() => this.progress()),
    );
  }

  /** The latest rescore, again and again until it has ended. */
  progress(): Observable<Job> {
    return timer(0, 400).pipe(
      switchMap(() => this.http.get<Job | null>('/api/jobs/latest')),
      takeWhile((job): job is Job => job !== null),
      takeWhile((job) => job.state === 'running', true),
    );
  }

  counts(): Observable<RuleCounts> {
    return this.http.get<RuleCounts>('/api/rule-counts');
  }
}
