import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { PastProposal, ProblemDocument, RecordDetail } from '@relvik/contracts';
import { splitChoices, tagsOf, type TieKind, type UnroutedKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import {
  catchError,
  combineLatest,
  EMPTY,
  interval,
  map,
  type Observable,
  of,
  startWith,
  Subject,
  switchMap,
  tap,
} from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { PeopleService } from '../people/people.service';
import { NoteActivity } from '../record/note-activity';
import { NotMoved } from '../record/not-moved';
import { PlaceLabel } from '../record/place-label';
import { ProposalService } from '../record/proposal.service';
import { RecordProposals } from '../record/record-proposals';
import { ScoreAccount } from '../record/score-account';
import { SessionService } from '../session/session.service';
import { RecordTasks } from '../task/record-tasks';
import { TracerService } from '../tracer/tracer.service';
import { GradeBadge } from '../ui/grade-badge';
import { headingOf, pathOf } from '../wording/kind-words';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { DealStages } from './deal-stages';
import { KnownNames } from './known-names';
import { MakeLeads } from './make-leads';
import { PartyJoins } from './party-joins';
import { RecordCell } from './record-cell';
import { RecordTimeline } from './record-timeline';
import { RecordValues } from './record-values';
import { RecordService } from './record.service';

/** While leads of it are decided again the page asks so often, ms. */
const LOOK = 2000;

/** One contact, company or deal: whom to reach and what is next, what is known, what happened, and why it has its score. */
@Component({
  selector: 'rv-record',
  imports: [
    DatePipe,
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    SelectModule,
    AgoPipe,
    DealStages,
    GradeBadge,
    KnownNames,
    MakeLeads,
    NoteActivity,
    NotMoved,
    PartyJoins,
    PlaceLabel,
    ProblemNote,
    RecordCell,
    RecordProposals,
    RecordTasks,
    RecordTimeline,
    RecordValues,
    ScoreAccount,
    Waiting,
  ],
  templateUrl: './record.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordPage {
  protected readonly records = inject(RecordService);
  protected readonly words = inject(WordingService);
  protected readonly tracer = inject(TracerService);
  private readonly sessions = inject(SessionService);
  private readonly proposals = inject(ProposalService);
  protected readonly admin = computed(() => this.sessions.is('admin'));
  /** From the route. */
  readonly kind = input.required<UnroutedKind>();
  readonly id = input.required({ transform: numberAttribute });
  /** From the address: the one it may be joined with. */
  readonly join = input(null, { transform: (text: string | undefined) => Number(text) || null });

  protected readonly again = new Subject<void>();
  protected readonly loaded = toSignal(
    combineLatest([toObservable(this.kind), toObservable(this.id), this.again.pipe(startWith(undefined))]).pipe(
      switchMap(([kind, id]) => asLoaded(this.records.one(kind, id))),
    ),
    { initialValue: LOADING },
  );
  /** Kept while it is loaded again, so that the page does not jump. */
  private kept: RecordDetail | null = null;
  protected readonly record = computed(
    () => (this.kept = valueOf(this.loaded()) ?? (this.loaded().state === 'loading' ? this.kept : null)),
  );
  protected readonly problem = signal<ProblemDocument | null>(null);
  /** Why a proposal could not be answered. */
  protected readonly refused = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly path = computed(() => pathOf(this.kind()));
  protected readonly heading = computed(() => headingOf(this.kind()));
  protected readonly bands = computed(() => Math.max(1, this.words.bandsOf(this.kind(), 'engagement').length));
  /** Null for a deal: only contacts and companies are joined. */
  protected readonly party = computed((): TieKind | null => {
    const kind = this.kind();
    return kind === 'deal' ? null : kind;
  });
  protected readonly paths = { contact: pathOf('contact'), company: pathOf('company'), deal: pathOf('deal') };

  protected readonly tags = computed(() => splitChoices(this.shown(tagsOf(this.kind()))));
  /** How a contact is reached. */
  protected readonly reach = computed(() => ({
    email: this.ofRole('email'),
    phone: this.ofRole('phone'),
  }));
  /** The amount of a deal, and its expected close. */
  protected readonly worth = computed(() => ({ amount: this.ofRole('amount'), close: this.ofRole('close') }));
  protected readonly people = toSignal(
    inject(PeopleService)
      .people()
      .pipe(
        map(({ people }) => [
          { key: null as string | null, name: 'Nobody' },
          ...people.filter((person) => person.mayTakeLeads).map(({ key, name }) => ({ key: key, name })),
        ]),
        catchError(() => of([])),
      ),
    { initialValue: [] },
  );

  constructor() {
    this.lookAgain();
    combineLatest([toObservable(this.kind), toObservable(this.id)])
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.kept = null;
        this.problem.set(null);
        this.refused.set(null);
      });
  }

  private lookAgain(): void {
    const due = toObservable(computed(() => (this.record()?.leadsDue ?? 0) > 0));
    due
      .pipe(
        switchMap((isDue) => (isDue ? interval(LOOK) : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe(() => {
        this.again.next();
      });
  }

  private shown(field: string): string {
    return this.record()?.values.find((one) => one.field === field)?.shown ?? '';
  }

  private ofRole(role: 'email' | 'phone' | 'amount' | 'close'): string {
    const field = this.words.fieldsOf(this.kind()).find((one) => one.role === role);
    return field === undefined ? '' : shownAs(field, this.shown(field.key));
  }

  /** Answers a proposal; where it is refused, since someone was quicker, the page says why. */
  protected take(proposal: PastProposal): void {
    this.run(
      this.proposals.takePick(proposal).pipe(
        tap(({ refused }) => {
          this.refused.set(refused[0]?.why ?? null);
        }),
      ),
    );
  }

  /** Carries work out; on success the page shows the record as it is then, else what went wrong. */
  protected run(work: Observable<unknown>): void {
    if (this.busy()) return;
    this.busy.set(true);
    work.subscribe({
      next: () => {
        this.busy.set(false);
        this.problem.set(null);
        this.again.next();
        // A new tag is suggested from now on.
        this.words.load();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
        if (this.problem()?.status === 409) this.again.next();
      },
    });
  }
}
