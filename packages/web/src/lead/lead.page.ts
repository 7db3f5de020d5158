import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  numberAttribute,
  signal,
} from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import type { DoneEach, JoinPreview, LeadDetail, LeadRow, ProblemDocument } from '@relvik/contracts';
import { type Activity, splitChoices, TAGS, territoryWords } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { map, type Observable, Subject, startWith, switchMap, tap } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { GradeBadge } from '../ui/grade-badge';
import { SessionService } from '../session/session.service';
import { TracerService } from '../tracer/tracer.service';
import { causeWords, changeWords } from '../record/change-words';
import { type Join, JoinTwo } from '../record/join-two';
import { HandlingChoice } from '../record/handling-choice';
import { LeadService } from '../record/lead.service';
import { ProposalService } from '../record/proposal.service';
import { RecordProposals } from '../record/record-proposals';
import { MoveStage, type StageMove } from '../record/move-stage';
import { PinTerritory, type TerritoryPin } from '../record/pin-territory';
import { LeadWork } from './lead-work';
import { NoteActivity } from '../record/note-activity';
import { NotMoved } from '../record/not-moved';
import { PlaceLabel } from '../record/place-label';
import { ReasoningView } from '../record/reasoning-view';
import { RecordTasks } from '../task/record-tasks';
import { ScoreCurve } from '../record/score-curve';
import { saidOf } from '../record/said-words';
import { shownAs } from '../wording/shown-as';
import { ValueField } from '../record/value-field';
import { WordingService } from '../wording/wording.service';

/** One lead: where it stands, why, what is known of it, and what can be done with it. */
@Component({
  selector: 'rv-lead',
  imports: [
    ButtonModule,
    DatePipe,
    RouterLink,
    AgoPipe,
    HandlingChoice,
    GradeBadge,
    JoinTwo,
    RecordProposals,
    LeadWork,
    MoveStage,
    PinTerritory,
    NoteActivity,
    NotMoved,
    PlaceLabel,
    ProblemNote,
    RecordTasks,
    ReasoningView,
    ScoreCurve,
    ValueField,
    Waiting,
  ],
  templateUrl: './lead.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeadPage {
  protected readonly leads = inject(LeadService);
  protected readonly proposals = inject(ProposalService);
  private readonly router = inject(Router);
  protected readonly tracer = inject(TracerService);
  private readonly sessions = inject(SessionService);
  protected readonly admin = computed(() => this.sessions.is('admin'));
  protected readonly words = inject(WordingService);
  readonly id = input.required({ transform: numberAttribute });

  protected readonly again = new Subject<void>();
  private readonly opened = toObservable(this.id).pipe(
    switchMap((id) =>
      this.again.pipe(
        map(() => id),
        startWith(id),
      ),
    ),
  );
  protected readonly loaded = toSignal(this.opened.pipe(switchMap((id) => asLoaded(this.leads.one(id)))), {
    initialValue: LOADING,
  });
  protected readonly reasoning = toSignal(this.opened.pipe(switchMap((id) => asLoaded(this.leads.reasoning(id)))), {
    initialValue: LOADING,
  });
  protected readonly curve = toSignal(this.opened.pipe(switchMap((id) => asLoaded(this.leads.curve(id)))), {
    initialValue: LOADING,
  });
  protected readonly drawn = computed(() => valueOf(this.curve()));
  /** Kept while it is loaded again, so that the page does not jump. */
  private kept: LeadDetail | null = null;
  protected readonly lead = computed(
    () => (this.kept = valueOf(this.loaded()) ?? (this.loaded().state === 'loading' ? this.kept : null)),
  );
  protected readonly account = computed(() => valueOf(this.reasoning()));

  /** Why it lies in its territory: by which part of the address, or pinned. */
  protected readonly whyThere = computed(() => {
    const decided = this.account()?.then;
    return decided ? territoryWords(decided.decision.territory, this.words.wording().names) : '';
  });

  /** How far rules are asked after the edit. */
  protected readonly handling = linkedSignal(() => this.words.byHand());
  protected readonly editing = signal<string | null>(null);
  protected readonly typed = signal('');
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  /** Why it stayed where it is. */
  protected readonly refused = signal<string | null>(null);
  /** Set while a lead to join with is chosen. */
  protected readonly joining = signal<{ readonly other: number | null } | null>(null);
  protected readonly now = Date.now();

  protected readonly fields = computed(() => {
    const values = new Map((this.lead()?.values ?? []).map((value) => [value.field, value]));
    const said = new Map((this.lead()?.said ?? []).map((one) => [one.field, one]));
    return this.words.fields().map((field) => {
      const value = values.get(field.key);
      const raw = value?.shown ?? '';
      return {
        field,
        raw,
        shown: value?.unreadable ? raw : shownAs(field, raw),
        unreadable: value?.unreadable ?? null,
        said: saidOf(said.get(field.key), field),
      };
    });
  });
  /** Its country, alpha-2; empty: none that can be read. */
  protected readonly country = computed(
    () => this.fields().find(({ field }) => field.key === this.words.countryKey('lead'))?.raw ?? '',
  );
  protected readonly tags = computed(() =>
    splitChoices(this.lead()?.values.find(({ field }) => field === TAGS)?.shown ?? ''),
  );
  protected readonly history = computed(() =>
    (this.lead()?.history ?? []).map((change) => ({
      at: change.at,
      by: causeWords(change, this.words.wording()),
      words: changeWords(change, this.words.wording()),
    })),
  );

  constructor() {
    toObservable(this.id)
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.kept = null;
        this.editing.set(null);
        this.joining.set(null);
        this.problem.set(null);
      });
  }

  /** After a join the page shows the lead that is left. */
  protected joinWith(id: number, { other, take }: Join): void {
    const joined = this.leads.join(id, other, take);
    this.run(joined.pipe(tap((older) => void this.router.navigate(['/leads', older.id]))));
    this.joining.set(null);
  }

  protected readonly askJoin = (other: number): Observable<JoinPreview<LeadRow>> =>
    this.leads.joinPreview(this.id(), other);

  protected undoJoin(id: number): void {
    this.run(this.leads.undoJoin(id));
  }

  protected removeTest(id: number): void {
    this.run(this.leads.removeTest(id).pipe(tap(() => void this.router.navigate(['/leads']))));
  }

  /** The amount of a deal, as it is entered. */
  protected amountWords(entered: string): string {
    const field = this.words.fieldsOf('deal').find(({ role }) => role === 'amount');
    return field === undefined ? entered : shownAs(field, entered);
  }

  protected propertiesOf({ properties = {} }: Activity): string {
    return Object.entries(properties)
      .map(([key, text]) => `${key.replaceAll('_', ' ')} ${text}`)
      .join(', ');
  }

  protected edit(key: string, raw: string): void {
    this.editing.set(key);
    this.typed.set(raw);
    this.handling.set(this.words.byHand());
    this.problem.set(null);
  }

  protected settle(field: string, take: boolean): void {
    const lead = this.lead();
    if (lead !== null) this.run(this.leads.settleSaid(lead.id, field, take));
  }

  protected save(): void {
    const lead = this.lead();
    const key = this.editing();
    if (lead === null || key === null) return;
    const edit = this.leads.edit(lead.id, lead.version, { [key]: this.typed() }, this.handling());
    // A new tag is suggested from now on.
    this.run(
      key === TAGS
        ? edit.pipe(
            tap(() => {
              this.words.load();
            }),
          )
        : edit,
    );
  }

  /** Carries work out; on success the page shows the lead as it is then, else what went wrong. */
  protected move(id: number, { stage, reason }: StageMove): void {
    this.runEach(this.leads.move({ ids: [id], stage, reason }));
  }

  protected pin(id: number, pin: TerritoryPin): void {
    this.runEach(this.leads.pin({ ids: [id], ...pin }));
  }

  /** Work that is refused for one lead is no error of the request. */
  protected runEach(work: Observable<DoneEach>): void {
    this.run(
      work.pipe(
        tap(({ refused }) => {
          this.refused.set(refused[0]?.why ?? null);
        }),
      ),
    );
  }

  protected run(work: Observable<unknown>): void {
    if (this.busy()) return;
    this.busy.set(true);
    work.subscribe({
      next: () => {
        this.busy.set(false);
        this.editing.set(null);
        this.problem.set(null);
        this.again.next();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
        if (this.problem()?.status === 409) this.again.next();
      },
    });
  }
}
