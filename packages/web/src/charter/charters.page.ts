import { DatePipe, JsonPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import type { JournalAct, ProblemDocument } from '@relvik/contracts';
import { changesBetween } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { catchError, combineLatest, forkJoin, of, switchMap } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { saveFile } from '../ui/save-file';
import { WordingService } from '../wording/wording.service';
import { CharterService } from './charter.service';

const ACTS: { readonly [A in JournalAct]: string } = {
  begun: 'Begun',
  copied: 'Copied',
  restored: 'Restored',
  imported: 'Imported',
  saved: 'Changed',
  updated: 'Brought up to date',
  enacted: 'Enacted',
  discarded: 'Discarded',
  cancelled: 'Rescore cancelled',
  finished: 'Rescore finished',
};

/** All charters: the one in force, drafts, past ones, what was done with them, and what any two differ in. */
@Component({
  selector: 'rv-charters',
  imports: [
    AgoPipe,
    ButtonModule,
    DatePipe,
    FormsModule,
    InputTextModule,
    JsonPipe,
    ProblemNote,
    SelectModule,
    Waiting,
  ],
  templateUrl: './charters.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChartersPage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  protected readonly acts = ACTS;
  protected readonly trouble = signal<ProblemDocument | null>(null);
  protected readonly naming = signal<{ readonly id: number | null; readonly name: string } | null>(null);
  protected readonly noting = signal<number | null>(null);
  protected readonly discarding = signal<number | null>(null);
  protected note = '';

  protected readonly journal = toSignal(
    toObservable(this.charters.state).pipe(switchMap(() => this.charters.journal().pipe(catchError(() => of([]))))),
    { initialValue: [] },
  );

  protected readonly all = computed(() => {
    const inForce = this.charters.inForce();
    return [
      ...(inForce ? [{ label: `${inForce.number} · ${inForce.charter.name}, in force`, value: inForce.id }] : []),
      ...this.charters.drafts().map(({ id, name }) => ({ label: `Draft ${name}`, value: id })),
      ...this.charters.past().map(({ id, name, number }) => ({ label: `${number ?? ''} · ${name}`, value: id })),
    ];
  });
  protected readonly from = signal<number | null>(null);
  protected readonly to = signal<number | null>(null);
  protected readonly compared = toSignal(
    combineLatest([toObservable(this.from), toObservable(this.to), toObservable(this.charters.state)]).pipe(
      switchMap(([from, to]) =>
        from === null || to === null
          ? of(null)
          : forkJoin([this.charters.one(from), this.charters.one(to)]).pipe(catchError(() => of(null))),
      ),
    ),
    { initialValue: null },
  );
  protected readonly changes = computed(() => {
    const pair = this.compared();
    return pair === null ? [] : changesBetween(pair[0], pair[1], this.words.wordingOf(pair[1]));
  });
  /** Whether the patch is shown: it is asked for only then, and for the two that are compared. */
  protected readonly asPatch = signal(false);
  protected readonly patch = toSignal(
    toObservable(
      computed(() => ({ from: this.from(), to: this.to(), of: this.compared(), shown: this.asPatch() })),
    ).pipe(
      switchMap(({ from, to, shown }) =>
        from === null || to === null || !shown
          ? of([])
          : this.charters.patch(from, to).pipe(
              catchError((error: unknown) => {
                this.trouble.set(problemOf(error));
                return of([]);
              }),
            ),
      ),
    ),
    { initialValue: [] },
  );

  constructor() {
    effect(() => {
      const inForce = this.charters.inForce();
      const draft = this.charters.draft() ?? this.charters.drafts()[0];
      if (inForce && this.from() === null) this.from.set(inForce.id);
      if (draft && this.to() === null) this.to.set(draft.id);
    });
  }

  protected begin(): void {
    const naming = this.naming();
    if (naming === null || naming.name.trim() === '') return;
    this.charters.beginDraft(naming.name.trim(), naming.id ?? undefined).subscribe((done) => {
      if (done) this.naming.set(null);
    });
  }

  protected saveNote(id: number): void {
    this.charters.noteDraft(id, this.note.trim() || null).subscribe((done) => {
      if (done) this.noting.set(null);
    });
  }

  protected discard(id: number): void {
    this.charters.discardDraft(id).subscribe(() => {
      this.discarding.set(null);
      if (this.to() === id) this.to.set(null);
      if (this.from() === id) this.from.set(null);
    });
  }

  protected export(id: number, name: string): void {
    this.charters.file(id).subscribe({
      next: (file) => {
        const fileName = `${name.replace(/[^\p{L}\p{N}]+/gu, '-')}.charter.json`;
        saveFile(fileName, JSON.stringify(file, null, 2), 'application/json');
      },
      error: (error: unknown) => {
        this.trouble.set(problemOf(error));
      },
    });
  }

  protected import(input: HTMLInputElement): void {
    const file = input.files?.[0];
    if (file === undefined) return;
    this.trouble.set(null);
    void file.text().then((text) => {
      this.charters.importDraft(text).subscribe(() => {
        input.value = '';
      });
    });
  }
}
