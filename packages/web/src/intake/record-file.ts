import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { ImportReport, ImportState, ProblemDocument } from '@relvik/contracts';
import { type Handling, RECORD_KINDS, type RecordKind } from '@relvik/core';
import { ProgressBarModule } from 'primeng/progressbar';
import { SelectModule } from 'primeng/select';
import { catchError, distinctUntilChanged, EMPTY, type Observable, switchMap, takeWhile, timer } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { pathOf, pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { HandlingChoice } from '../record/handling-choice';
import { IntakeService } from './intake.service';

/** While rows are taken in or taken back, the page asks again so often, ms. */
const LOOK = 700;

/** For each kind the columns that are no fields, and how a known record is recognised. */
const HINTS: Readonly<Record<RecordKind, string>> = {
  lead: 'A column “owner” names someone who keeps the lead, “pipeline” the one into which it comes, else the first. Open leads there with the same e-mail are joined.',
  contact:
    'Columns “company” and “owner” name whose they are; a company that nobody knows is made. A contact with the same e-mail, or without one of the same name and company, gets the values of the row.',
  company:
    'A column “owner” names whose it is. A company known by the name or domain gets the values of the row; what a hand set stays.',
  deal: 'Columns “company”, “contact” (an e-mail), “stage” and “owner”. Each row is a deal of its own.',
};
/** Columns that are no fields. */
const BESIDE: Readonly<Record<string, string>> = {
  owner: 'Owner',
  company: 'Company',
  contact: 'Contact',
  stage: 'Stage',
};

function isMoving({ state }: ImportState): boolean {
  return state === 'running' || state === 'undoing';
}

/** A file of leads, contacts, companies or deals: sent, taken in by the server while one may leave the page, reported row by row, and taken back. */
@Component({
  selector: 'rv-record-file',
  imports: [
    AgoPipe,
    DecimalPipe,
    FormsModule,
    HandlingChoice,
    ProblemNote,
    ProgressBarModule,
    RouterLink,
    SelectModule,
  ],
  templateUrl: './record-file.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordFile {
  private readonly service = inject(IntakeService);
  protected readonly words = inject(WordingService);
  /** Records came in or went. */
  readonly changed = output();

  protected readonly kinds = RECORD_KINDS.map((kind) => ({ key: kind, name: pluralOf(kind) }));
  /** The kind of the file that is sent next. */
  protected readonly kind = signal<RecordKind>('lead');
  /** How far rules are asked of its leads. */
  protected readonly handling = signal<Handling>('decide');
  protected readonly hint = computed(() => HINTS[this.kind()]);
  protected readonly label = computed(() => `CSV file of ${pluralOf(this.kind())}`);
  protected readonly pathOf = pathOf;
  protected readonly pluralOf = pluralOf;
  protected readonly sending = signal<string | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly imports = signal<readonly ImportState[]>([]);
  /** The import whose rows are shown. */
  protected readonly shownId = signal<number | null>(null);
  protected readonly report = signal<ImportReport | null>(null);
  protected readonly again = signal(false);
  protected readonly percent = computed(() => {
    const one = this.report();
    if (one === null || one.rows === 0) return 0;
    const left = one.state === 'undoing' ? one.accepted : one.waiting;
    return Math.round((100 * (one.rows - left)) / one.rows);
  });

  constructor() {
    this.list();
    toObservable(this.shownId)
      .pipe(
        distinctUntilChanged(),
        switchMap((id) => (id === null ? EMPTY : this.follow(id))),
        takeUntilDestroyed(),
      )
      .subscribe((report) => {
        const moved = this.report()?.state !== report.state;
        this.report.set(report);
        if (moved && !isMoving(report)) {
          this.list();
          this.changed.emit();
        }
      });
  }

  protected async send(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    if (file === undefined) return;
    this.sending.set(file.name);
    this.problem.set(null);
    this.shownId.set(null);
    this.report.set(null);
    const text = await file.text();
    input.value = '';
    this.service.sendFile(this.kind(), file.name, text, this.handling()).subscribe({
      next: ({ id, again }) => {
        this.sending.set(null);
        this.again.set(again);
        this.shownId.set(id);
      },
      error: (error: unknown) => {
        this.sending.set(null);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected fieldName(key: string): string {
    return BESIDE[key] ?? this.words.wording().names.field(key);
  }

  protected show(id: number): void {
    this.again.set(false);
    this.problem.set(null);
    this.report.set(null);
    this.shownId.set(id);
  }

  protected undo({ id }: ImportState): void {
    this.service.undoImport(id).subscribe({
      next: (report) => {
        this.problem.set(null);
        this.report.set(report);
        this.shownId.set(null);
        setTimeout(() => {
          this.shownId.set(id);
        });
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  private follow(id: number): Observable<ImportReport> {
    return timer(0, LOOK).pipe(
      switchMap(() =>
        // A look that fails is made up for by the next one.
        this.service.importReport(id).pipe(catchError(() => EMPTY)),
      ),
      takeWhile((report) => isMoving(report), true),
    );
  }

  private list(): void {
    this.service.imports().subscribe({
      next: (imports) => {
        this.imports.set(imports);
        const running = imports.find(isMoving);
        if (running !== undefined && this.shownId() === null) this.shownId.set(running.id);
      },
      error: () => undefined,
    });
  }
}
