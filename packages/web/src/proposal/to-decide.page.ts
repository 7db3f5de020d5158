import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { DoneEach, ProblemDocument, ProposalOrder, ProposalPage, ProposalRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { interval, merge, type Observable, Subject, switchMap } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, type Loaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { SaidList } from '../catalogue/said-list';
import { ListSelection } from '../list/list-selection';
import { SessionService } from '../session/session.service';
import { GradeBadge } from '../ui/grade-badge';
import { singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { ConcordanceTable } from './concordance-table';
import { DecisionBar, type Outcome } from './decision-bar';
import { ProposalService } from '../record/proposal.service';
import { ProposalSide } from './proposal-side';

const ORDERS: readonly { readonly value: ProposalOrder; readonly label: string }[] = [
  { value: 'oldest', label: 'Oldest first' },
  { value: 'rank', label: 'Best rank first' },
];

/** Looked for others' decisions and new proposals, ms. */
const AGAIN = 60_000;

/** The last decisions, so that they can be undone. */
interface Done {
  readonly words: string;
  readonly ids: readonly number[];
  readonly refused: DoneEach['refused'];
}

/** To decide: what gates ask the user, decided one by one or several at once, by mouse or keyboard. */
@Component({
  selector: 'rv-to-decide',
  imports: [
    FormsModule,
    RouterLink,
    ButtonModule,
    SelectModule,
    AgoPipe,
    ConcordanceTable,
    DecisionBar,
    GradeBadge,
    ProblemNote,
    ProposalSide,
    SaidList,
    Waiting,
  ],
  templateUrl: './to-decide.page.html',
  host: { '(document:keydown)': 'press($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ToDecidePage {
  private readonly proposals = inject(ProposalService);
  private readonly sessions = inject(SessionService);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly words = inject(WordingService);
  protected readonly orders = [...ORDERS];
  protected readonly heading = singularHeadingOf;
  protected readonly order = signal<ProposalOrder>('oldest');
  protected readonly gate = signal<string | null>(null);
  protected readonly page = linkedSignal<string, number>({
    source: () => `${this.order()} ${this.gate() ?? ''}`,
    computation: () => 0,
  });
  private readonly again = new Subject<void>();
  private readonly query = computed(() => ({
    order: this.order(),
    page: this.page(),
    ...(this.gate() === null ? {} : { gate: this.gate() ?? '' }),
  }));
  protected readonly loaded = signal<Loaded<ProposalPage>>(LOADING);
  protected readonly shown = signal<ProposalPage | null>(null);
  protected readonly rows = computed(() => this.shown()?.rows ?? []);
  protected readonly selection = new ListSelection();
  private readonly current = signal<number | null>(null);
  protected readonly here = computed(
    () => this.rows().find(({ id }) => id === this.current()) ?? this.rows()[0] ?? null,
  );
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly done = signal<Done | null>(null);
  /** How many left the page without the user's doing. */
  protected readonly vanished = signal(0);
  protected readonly decided = signal(0);
  protected readonly isAdmin = computed(() => this.sessions.is('admin'));
  protected readonly seesConcordance = computed(() => this.sessions.session()?.role !== 'rep');
  private readonly bar = viewChild(DecisionBar);
  private readonly section = viewChild.required<ElementRef<HTMLElement>>('section');

  protected readonly gates = computed(() => {
    const { names } = this.words.wording();
    const own = (this.shown()?.gates ?? []).map(({ gate, count }) => ({
      value: gate,
      label: `${names.gate(gate)} (${count})`,
    }));
    return [{ value: null, label: 'All gates' }, ...own];
  });
  /** Those that are ticked, else the one that is shown beside. */
  protected readonly chosen = computed(() => {
    const ticked = this.rows().filter(({ id }) => this.selection.has(id));
    const here = this.here();
    return ticked.length > 0 ? ticked : here === null ? [] : [here];
  });
  protected readonly pickable = computed(() => this.chosen().every(({ pick }) => pick !== null));
  /** The outcomes that all chosen have. */
  protected readonly outcomes = computed((): Outcome[] => {
    const { names } = this.words.wording();
    const [first, ...others] = this.chosen();
    return (first?.outcomes ?? [])
      .filter(({ to }) => others.every((row) => row.outcomes.some((one) => one.to === to)))
      .map(({ to }) => ({ stage: to, name: names.stage(to) }));
  });

  constructor() {
    // Keys act at once: the link that led here would take Enter for itself.
    afterNextRender(() => {
      this.section().nativeElement.focus();
    });
    merge(toObservable(this.query), this.again, interval(AGAIN))
      .pipe(
        switchMap(() => asLoaded(this.proposals.page(this.query()))),
        takeUntilDestroyed(),
      )
      .subscribe((loaded) => {
        this.loaded.set(loaded);
        const page = valueOf(loaded);
        if (page !== null) this.take(page);
      });
  }

  /** The query whose answer is shown. */
  private takenBy: unknown = null;

  /** Shows what came; of what was there before some may be gone by another's hand, or since a gate does not hold any more. */
  private take(page: ProposalPage): void {
    const before = this.shown();
    const mine = new Set(this.done()?.ids ?? []);
    const isSame = this.takenBy === this.query();
    this.takenBy = this.query();
    if (!isSame) this.vanished.set(0);
    else if (before !== null && page.count < before.count) {
      const now = new Set(page.rows.map(({ id }) => id));
      this.vanished.set(before.rows.filter(({ id }) => !now.has(id) && !mine.has(id)).length);
    }
    this.shown.set(page);
  }

  protected show(row: ProposalRow): void {
    this.current.set(row.id);
  }

  protected takePick(): void {
    this.decide(this.chosen().map((row) => ({ id: row.id, answer: row.pick })));
  }

  protected takeOutcome(stage: string, rows = this.chosen()): void {
    this.decide(rows.map(({ id }) => ({ id, answer: stage })));
  }

  protected refuse(reason: string): void {
    this.decide(
      this.chosen().map(({ id }) => ({ id, answer: null })),
      reason,
    );
  }

  private decide(decisions: readonly { readonly id: number; readonly answer: string | null }[], reason?: string): void {
    if (decisions.length === 0) return;
    const { names } = this.words.wording();
    const goals = [...new Set(decisions.map(({ answer }) => (answer === null ? 'refused' : names.stage(answer))))];
    this.run(this.proposals.decide({ decisions, ...(reason === undefined ? {} : { reason }) }), (result) => ({
      words: `${counted(result.done.length)} decided: ${goals.join(', ')}.`,
      ids: result.done,
      refused: result.refused,
    }));
  }

  protected undo(): void {
    const ids = this.done()?.ids ?? [];
    if (ids.length === 0) return;
    this.run(this.proposals.undo(ids), (result) => ({
      words: `${counted(result.done.length)} taken back.`,
      ids: [],
      refused: result.refused,
    }));
  }

  private run(work: Observable<DoneEach>, doneBy: (result: DoneEach) => Done): void {
    if (this.busy()) return;
    this.busy.set(true);
    const next = this.after();
    work.subscribe({
      next: (result) => {
        this.busy.set(false);
        this.problem.set(null);
        this.done.set(doneBy(result));
        this.selection.clear();
        this.current.set(next);
        this.decided.update((count) => count + 1);
        this.again.next();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
        this.again.next();
      },
    });
  }

  /** The row that is shown beside once the chosen are gone: the next one below. */
  private after(): number | null {
    const chosen = new Set(this.chosen().map(({ id }) => id));
    const rows = this.rows();
    const from = rows.findIndex(({ id }) => id === this.here()?.id);
    return rows.slice(Math.max(0, from)).find(({ id }) => !chosen.has(id))?.id ?? null;
  }

  protected press(event: KeyboardEvent): void {
    const { target, key } = event;
    if (event.ctrlKey || event.metaKey || event.altKey || !(target instanceof HTMLElement)) return;
    if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && target.getAttribute('type') !== 'checkbox') return;
    if (target.getAttribute('role') === 'combobox') return;
    const presses = /^(BUTTON|A)$/.test(target.tagName);
    switch (key.toLowerCase()) {
      case 'j':
        this.step(1);
        break;
      case 'k':
        this.step(-1);
        break;
      case 'o':
        this.bar()?.open.set('other');
        break;
      case 'x':
        event.preventDefault();
        this.bar()?.open.set('refuse');
        setTimeout(() => this.host.nativeElement.querySelector<HTMLElement>('.decision-bar input')?.focus());
        break;
      case 'u':
        this.undo();
        break;
      case ' ': {
        const here = this.here();
        if (presses || target.tagName === 'INPUT' || here === null) return;
        event.preventDefault();
        this.selection.choose([here], !this.selection.has(here.id));
        break;
      }
      case 'enter':
        // A button that has the focus is pressed by it.
        if (!presses && this.pickable()) this.takePick();
    }
  }

  private step(by: 1 | -1): void {
    const rows = this.rows();
    const at = rows.findIndex(({ id }) => id === this.here()?.id);
    const next = rows[at + by];
    if (next === undefined) return;
    this.current.set(next.id);
    this.host.nativeElement.querySelector(`[data-proposal="${next.id}"]`)?.scrollIntoView({ block: 'nearest' });
  }
}

function counted(count: number): string {
  return count === 1 ? '1 proposal' : `${count} proposals`;
}
