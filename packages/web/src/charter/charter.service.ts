import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CharterFile, CharterState, JournalRow, ProblemDocument, SaveDraft } from '@relvik/contracts';
import { type BroughtUpToDate, type Charter, placeInCharter, readCharter, type Wording } from '@relvik/core';
import {
  catchError,
  concatMap,
  debounceTime,
  defer,
  EMPTY,
  finalize,
  fromEvent,
  map,
  Observable,
  of,
  Subject,
  switchMap,
  tap,
} from 'rxjs';
import { DraftSteps } from './draft-steps';
import { keepEqual } from '../api/keep-equal';
import { plainJson } from '../api/plain-json';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { WordingService } from '../wording/wording.service';

/** A change to the draft: from the charter as it is to the charter as it shall be. */
export type Change = (charter: Charter) => Charter;

/** The draft as someone else left it, when both changed it. */
export interface Meanwhile {
  readonly by: string;
  readonly before: Charter;
  readonly after: Charter;
}

/** A draft with changes that are not saved yet, and the version that they were made on. */
interface Working {
  readonly id: number;
  readonly version: number;
  readonly charter: Charter;
}

const PAUSE = 250;
/**
 * The charter in force and the open draft, kept for all pages.
 *
 * A change shows at once; it is saved a moment after the last of a series, one save after the other.
 */
@Injectable({ providedIn: 'root' })
export class CharterService {
  private readonly http = inject(HttpClient);
  private readonly words = inject(WordingService);
  private readonly loaded = signal<Loaded<CharterState>>(LOADING);
  private readonly working = signal<Working | null>(null);
  private readonly changes = new Subject<void>();
  private readonly turns = new Subject<Observable<unknown>>();

  readonly state = this.loaded.asReadonly();
  readonly inForce = computed(() => valueOf(this.loaded())?.inForce ?? null);
  readonly draft = computed(() => {
    const draft = valueOf(this.loaded())?.draft ?? null;
    const working = this.working();
    return draft === null || working?.id !== draft.id ? draft : { ...draft, charter: working.charter };
  });
  readonly drafts = computed(() => valueOf(this.loaded())?.drafts ?? []);
  readonly past = computed(() => valueOf(this.loaded())?.past ?? []);
  /** What the pages of the course show and edit: the draft, else what is in force. */
  readonly shown = computed(() => this.draft()?.charter ?? this.inForce()?.charter ?? null);
  /** The names in it: a draft has names of its own. */
  readonly wording = computed((): Wording => {
    const shown = this.shown();
    return shown === null ? this.words.wording() : this.words.wordingOf(shown);
  });
  readonly saving = signal(false);
  readonly unsaved = computed(() => this.working() !== null);
  private readonly steps = new DraftSteps();
  readonly canUndo = computed(() => this.steps.last(this.draft()?.id) !== null);
  /** Why the last change was not made. */
  readonly problem = signal<ProblemDocument | null>(null);
  /** What someone else changed while this one was being changed. */
  readonly meanwhile = signal<Meanwhile | null>(null);

  constructor() {
    this.turns.pipe(concatMap((turn) => turn)).subscribe();
    this.changes.pipe(debounceTime(PAUSE)).subscribe(() => {
      this.turns.next(defer(() => this.save()));
    });
    fromEvent(window, 'pagehide')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.saveOnLeaving();
      });
    // While a save is under way nobody knows yet whether it was taken: the browser asks before it leaves.
    fromEvent(window, 'beforeunload')
      .pipe(takeUntilDestroyed())
      .subscribe((event) => {
        if (this.saving()) event.preventDefault();
      });
  }

  load(): void {
    asLoaded(this.http.get<CharterState>('/api/charters')).subscribe((state) => {
      if (state.state === 'ready') this.take(state.value);
      else if (state.state !== 'loading' || this.loaded().state !== 'ready') this.loaded.set(state);
    });
  }

  /** What did not change, the charter in force above all, stays as it is for whoever shows it. */
  private take(state: CharterState): void {
    const before = valueOf(this.loaded());
    const working = this.working();
    // What was just saved comes back: it is what is shown already.
    const draft =
      before?.draft && working?.id === before.draft.id ? { ...before.draft, charter: working.charter } : null;
    this.loaded.set({ state: 'ready', value: keepEqual(draft === null ? before : { ...before, draft }, state) });
  }

  /** Changes the draft; a change that makes no charter is said in `problem` and not made. */
  change(change: Change): void {
    const draft = this.draft();
    if (draft === null) return;
    const reading = readCharter(plainJson(change(draft.charter)));
    if (!reading.ok) {
      const errors = reading.problems.map(({ path, message }) => ({
        path: `/charter${path}`,
        message: `${placeInCharter(draft.charter, path).words}: ${message}`,
      }));
      this.problem.set({ type: 'about:blank', status: 422, title: 'This can’t be drawn', errors });
      return;
    }
    this.problem.set(null);
    this.meanwhile.set(null);
    const { id, version } = this.working() ?? draft;
    this.steps.keep({ id, charter: draft.charter, at: Date.now() });
    this.working.set({ id, version, charter: keepEqual(draft.charter, reading.charter) });
    this.changes.next();
  }

  /** Takes back the last change of the draft; that is a change too, and saved like any other. */
  undo(): void {
    const step = this.steps.last(this.draft()?.id);
    if (step === null) return;
    this.steps.goBack(() => {
      this.change(() => step.charter);
    });
  }

  /** Saves what is unsaved now; says whether it was taken. */
  private save(): Observable<boolean> {
    const saved = this.working();
    if (saved === null) return of(true);
    const body: SaveDraft = { version: saved.version, charter: saved.charter };
    this.saving.set(true);
    return this.http.put<CharterState>(`/api/drafts/${saved.id}`, body).pipe(
      tap((state) => {
        this.take(state);
        // What was changed while it was being saved waits for the next save, on top of this one.
        this.working.update((now) => (now === null || now === saved ? null : { ...now, version: saved.version + 1 }));
      }),
      map(() => true),
      catchError((error: unknown) => this.refused(problemOf(error))),
      finalize(() => {
        this.saving.set(false);
      }),
    );
  }

  /** Saves until nothing is unsaved, or a save is refused. */
  private saveAll(): Observable<boolean> {
    return defer(() =>
      this.working() === null ? of(true) : this.save().pipe(switchMap((taken) => (taken ? this.saveAll() : of(false)))),
    );
  }

  /** One request after the other, in the order asked: none overtakes a save. */
  private inTurn<T>(act: Observable<T>): Observable<T> {
    return new Observable((asker) => {
      this.turns.next(
        act.pipe(
          tap(asker),
          catchError(() => EMPTY),
        ),
      );
    });
  }

  /** Asks once everything is saved; what could not be saved is said in `problem`, and nothing is asked. */
  afterSaving<T>(ask: () => Observable<T>): Observable<T> {
    return this.inTurn(this.saveAll().pipe(switchMap((saved) => (saved ? ask() : EMPTY))));
  }

  /** Who leaves the page within the pause loses nothing: the browser carries this request on. */
  private saveOnLeaving(): void {
    const working = this.working();
    if (working === null || this.saving()) return;
    const token = /(?:^|; )XSRF-TOKEN=([^;]+)/.exec(document.cookie)?.[1] ?? '';
    const body: SaveDraft = { version: working.version, charter: working.charter };
    void fetch(`/api/drafts/${working.id}`, {
      method: 'PUT',
      keepalive: true,
      headers: { 'Content-Type': 'application/json', 'X-XSRF-TOKEN': decodeURIComponent(token) },
      body: JSON.stringify(body),
    });
  }

  /** A save that was refused: the draft is shown as it is now, and what someone else changed is said. */
  private refused(problem: ProblemDocument): Observable<false> {
    this.problem.set(problem);
    if (problem.status !== 409 && problem.status !== 404) {
      // What the server could not take at all is not tried for ever; whatever else keeps it from saving passes.
      if (problem.status === 422) this.working.set(null);
      return of(false);
    }
    const before = valueOf(this.loaded())?.draft;
    this.working.set(null);
    return this.http.get<CharterState>('/api/charters').pipe(
      tap((state) => {
        this.take(state);
        if (before && state.draft?.id === before.id)
          this.meanwhile.set({ by: state.draft.author, before: before.charter, after: state.draft.charter });
      }),
      map(() => false as const),
      catchError(() => of(false as const)),
    );
  }

  beginDraft(name: string, from?: number): Observable<boolean> {
    return this.taking(this.http.post<CharterState>('/api/drafts', { name, ...(from === undefined ? {} : { from }) }));
  }

  openDraft(id: number | null): Observable<boolean> {
    return this.taking(this.http.post<CharterState>(id === null ? '/api/drafts/close' : `/api/drafts/${id}/open`, {}));
  }

  noteDraft(id: number, note: string | null): Observable<boolean> {
    return this.taking(this.http.patch<CharterState>(`/api/drafts/${id}`, { note }));
  }

  discardDraft(id: number): Observable<boolean> {
    this.working.update((working) => (working?.id === id ? null : working));
    return this.taking(this.http.delete<CharterState>(`/api/drafts/${id}`));
  }

  importDraft(text: string): Observable<boolean> {
    return this.taking(this.http.post<CharterState>('/api/drafts/import', { text }));
  }

  /** What the draft would be on the charter in force. */
  upToDate(id: number): Observable<BroughtUpToDate & { readonly base: number }> {
    return this.afterSaving(() =>
      this.http.get<BroughtUpToDate & { readonly base: number }>(`/api/drafts/${id}/up-to-date`),
    );
  }

  /** Takes over the draft as it was brought up to date. */
  takeUpToDate(charter: Charter, base: number): Observable<boolean> {
    const draft = this.draft();
    if (draft === null) return EMPTY;
    const body: SaveDraft = { version: draft.version, charter, base };
    return this.taking(this.http.put<CharterState>(`/api/drafts/${draft.id}`, body));
  }

  one(id: number): Observable<Charter> {
    return this.http.get<Charter>(`/api/charters/${id}`);
  }

  file(id: number): Observable<CharterFile> {
    return this.afterSaving(() => this.http.get<CharterFile>(`/api/charters/${id}/file`));
  }

  patch(from: number, to: number): Observable<unknown[]> {
    return this.http.get<unknown[]>(`/api/charters/${from}/patch/${to}`);
  }

  journal(): Observable<JournalRow[]> {
    return this.http.get<JournalRow[]>('/api/journal');
  }

  /** Does what is asked once everything is saved; says whether it was done. */
  private taking(answer: Observable<CharterState>): Observable<boolean> {
    const done = answer.pipe(
      tap((state) => {
        this.problem.set(null);
        this.meanwhile.set(null);
        this.take(state);
      }),
      map(() => true),
      catchError((error: unknown) => {
        this.problem.set(problemOf(error));
        return of(false);
      }),
    );
    return this.inTurn(this.saveAll().pipe(switchMap((saved) => (saved ? done : of(false)))));
  }
}
