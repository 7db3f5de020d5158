import { computed, effect, inject, Injectable, type Signal, signal, untracked } from '@angular/core';
import type {
  Axis,
  Condition,
  FieldValues,
  GateWaits,
  RouteFinding,
  Impact,
  ImpactReading,
  Match,
  Meeting,
  OwnerImpact,
  Pair,
  PipelineKind,
  Problem,
  RecordKind,
  RulePlace,
  RuleTally,
  Taken,
  UnroutedKind,
} from '@relvik/core';
import { keepEqual } from '../api/keep-equal';
import { CharterService } from '../charter/charter.service';
import { SetChoice } from '../charter/set-choice';
import { type AxisBars, barsOf, type ScoreBar } from './bars-of';
import type { DeskLink } from './desk-link';
import { PopulationService } from './population.service';
import { RecordDesks } from './record-desks';

/** What the open draft changes over all leads: asked anew with each change, the newest answer shown. */
@Injectable({ providedIn: 'root' })
export class ImpactService {
  private readonly charters = inject(CharterService);
  private readonly population = inject(PopulationService);
  private readonly desks = inject(RecordDesks);
  private readonly sets = inject(SetChoice);
  /** The kind of records whose gates a page shows; null: it shows none. */
  readonly gatesOf = signal<PipelineKind | null>(null);
  /** The kind whose gates, or whose score set, is looked at, where it is not leads. */
  readonly otherKind = computed((): UnroutedKind | null => {
    const kind = this.gatesOf() ?? this.sets.set()?.of ?? 'lead';
    return kind === 'lead' ? null : kind;
  });
  private readonly wanted = signal(false);
  private busy = false;
  /** The version of the population as of which each desk has read its records. */
  private readonly readAt = new Map<UnroutedKind, string | null>();
  private again = false;

  readonly reading = signal<ImpactReading>({ kind: 'came-in' });
  readonly impact = signal<Impact | null>(null);
  /** Null until it was counted once. */
  readonly owners = signal<OwnerImpact | null>(null);
  /** Owners are those of a moment ago: the new ones are being counted. */
  readonly ownersBehind = signal(false);
  /** The leads that meet a gate of the draft already; null unless it is read on enact. */
  readonly meeting = signal<Meeting | null>(null);
  private readonly leadTally = signal<RuleTally | null>(null);
  /** The number of leads that each route in force takes; null until they are counted. */
  readonly taken = signal<Taken | null>(null);
  /** Findings in the routes of the draft. */
  readonly findings = signal<readonly RouteFinding[]>([]);
  /** The impact on records of {@link otherKind}; null until it is known. */
  readonly others = computed(() =>
    this.counted()?.kind === this.otherKind() ? (this.counted()?.impact ?? null) : null,
  );
  private readonly counted = signal<{ readonly kind: UnroutedKind; readonly impact: Impact } | null>(null);
  private readonly otherTally = signal<RuleTally | null>(null);
  readonly tally = computed((): RuleTally | null => {
    const [leads, others] = [this.leadTally(), this.otherTally()];
    if (leads === null || others === null) return leads;
    return {
      ...leads,
      sets: { ...leads.sets, ...others.sets },
      signals: { ...leads.signals, ...others.signals },
      gates: { ...leads.gates, ...others.gates },
    };
  });
  readonly problems = signal<readonly Problem[]>([]);
  /** Why nothing can be computed, in words. */
  readonly failed = signal<string | null>(null);
  readonly state = this.population.state;
  readonly outdated = this.population.outdated;

  /** The charter in force and the draft; without a draft the one in force stands on both sides. */
  private readonly pair = computed((): Pair | null => {
    const inForce = this.charters.inForce()?.charter;
    const draft = this.charters.shown();
    return inForce && draft ? { inForce, draft } : null;
  });

  private readonly hasDraft = computed(() => this.charters.draft() !== null);
  private readonly spread = { fit: this.barsOn('fit'), engagement: this.barsOn('engagement') };
  /** How the leads that the chosen set admits spread over both axes. */
  readonly bars = computed((): AxisBars | null => {
    const [fit, engagement] = [this.spread.fit(), this.spread.engagement()];
    return fit && engagement && { fit, engagement };
  });

  constructor() {
    effect(() => {
      const pair = this.pair();
      this.reading();
      this.otherKind();
      const ready = this.state().state === 'ready';
      if (this.wanted() && pair !== null && ready) untracked(() => void this.update());
    });
  }

  /** Pages that show the impact call this: the population is loaded when it is first wanted. */
  want(): void {
    if (this.wanted()) {
      if (this.state().state === 'ready') void this.population.check().catch(() => undefined);
      return;
    }
    this.wanted.set(true);
    void this.population.load();
  }

  refresh(): void {
    void this.population.load();
  }

  /** One computation at a time; what changed meanwhile is computed next, and only the newest of it. */
  private async update(): Promise<void> {
    if (this.busy) {
      this.again = true;
      return;
    }
    this.busy = true;
    try {
      do {
        this.again = false;
        await this.compute();
      } while (this.isOutrun());
      this.failed.set(null);
    } catch (error) {
      this.failed.set(error instanceof Error ? error.message : String(error));
    } finally {
      this.busy = false;
    }
  }

  /** Something changed since this computation began. */
  private isOutrun(): boolean {
    return this.again;
  }

  private async compute(): Promise<void> {
    const pair = this.pair();
    const reading = this.reading();
    if (pair === null) return;
    const impact = await this.population.ask('impact', { pair, reading });
    this.problems.set(impact.ok ? [] : impact.problems);
    if (!impact.ok) return;
    this.impact.set(keepEqual(this.impact(), impact.answer));
    this.ownersBehind.set(true);
    const meeting = reading.kind === 'on-enact' ? await this.population.ask('meeting', { pair, reading }) : null;
    this.meeting.set(meeting?.ok ? keepEqual(this.meeting(), meeting.answer) : null);
    const tally = await this.population.ask('tally', { pair });
    if (tally.ok) this.leadTally.set(keepEqual(this.leadTally(), tally.answer));
    const kind = this.otherKind();
    if (kind !== null) await this.computeOthers(kind, pair);
    if (this.isOutrun()) return;
    // Owners follow a moment later.
    const owners = await this.population.ask('owners', { pair, reading });
    if (!owners.ok) return;
    this.owners.set(keepEqual(this.owners(), owners.answer));
    this.ownersBehind.set(this.isOutrun());
  }

  /** Drawn anew only when its counts are other ones. */
  private barsOn(axis: Axis): Signal<AxisBars[Axis] | null> {
    const side = (which: 'before' | 'after'): Signal<readonly ScoreBar[] | null> => {
      const spread = computed(() => {
        const impact = this.otherKind() === null ? this.impact() : this.others();
        return impact?.spreads[this.sets.key() ?? '']?.[axis][which] ?? null;
      });
      return computed(() => {
        const counted = spread();
        return counted && barsOf(counted);
      });
    };
    const [before, after] = [side('before'), side('after')];
    return computed(() => {
      const [inForce, draft] = [before(), this.hasDraft() ? after() : null];
      // A set that the draft adds, or turns on, has no bars in force.
      return inForce === null && draft === null ? null : { inForce: inForce ?? [], draft };
    });
  }

  /** The impact on contacts, companies and deals comes from the server, only while a set for them is chosen. */
  private async computeOthers(kind: UnroutedKind, pair: Pair): Promise<void> {
    const desk = this.desks.of(kind);
    // They are read anew when the leads were.
    const state = this.state();
    const version = state.state === 'ready' ? state.value.version : null;
    if (version !== this.readAt.get(kind)) await desk.load();
    this.readAt.set(kind, version);
    const impact = await desk.ask('impact', { pair, reading: { kind: 'came-in' } });
    if (impact.ok) this.counted.set(keepEqual(this.counted(), { kind, impact: impact.answer }));
    const tally = await desk.ask('tally', { pair });
    if (tally.ok && kind === this.otherKind()) this.otherTally.set(keepEqual(this.otherTally(), tally.answer));
  }

  /** Looks for what the draft's routes show by themselves, and what those in force take: pages that tell it call this with each new impact. */
  async find(): Promise<void> {
    const pair = this.pair();
    if (pair === null || this.state().state !== 'ready') return;
    const found = await this.population.ask('findings', { pair });
    this.findings.set(keepEqual(this.findings(), found));
    const taken = await this.population.ask('taken', { pair });
    if (taken.ok) this.taken.set(keepEqual(this.taken(), taken.answer));
  }

  /** Records of a kind that wait at each gate of the draft; null while nothing can be said. */
  async waits(kind: PipelineKind): Promise<Readonly<Record<string, GateWaits>> | null> {
    const pair = this.pair();
    if (pair === null || this.state().state !== 'ready') return null;
    const answer = await this.deskOf(kind).ask('waits', { pair });
    return answer.ok ? answer.answer : null;
  }

  /** Deals that the draft's gates move on enact; null while nothing can be said. */
  async meetingDeals(): Promise<Meeting | null> {
    const pair = this.pair();
    const reading = this.reading();
    if (pair === null || reading.kind !== 'on-enact' || this.state().state !== 'ready') return null;
    const answer = await this.deskOf('deal').ask('meeting', { pair, reading });
    return answer.ok ? answer.answer : null;
  }

  /** The kind of records that a condition at a place of the page is asked of. */
  kindAt(place: RulePlace): RecordKind {
    return place === 'signal' || place === 'gate' ? (this.otherKind() ?? 'lead') : 'lead';
  }

  private deskOf(kind: RecordKind): Pick<DeskLink, 'ask'> {
    return kind === 'lead' ? this.population : this.desks.of(kind);
  }

  /** How many leads, or records of the set's kind, a condition of the draft holds for; null while nothing can be said. */
  async match(condition: Condition, place: RulePlace): Promise<Match | null> {
    const pair = this.pair();
    if (pair === null || this.state().state !== 'ready') return null;
    const answer = await this.deskOf(this.kindAt(place)).ask('match', { pair, condition, place });
    return answer.ok ? answer.answer : null;
  }

  /** The values of a field over the records that a condition at a place is asked of; null: they are not there yet. */
  async values(field: string, place: RulePlace): Promise<FieldValues | null> {
    if (this.state().state !== 'ready') return null;
    return this.deskOf(this.kindAt(place)).ask('values', { field, base: this.pair()?.draft.baseCurrency ?? 'EUR' });
  }

  namesOf(ids: readonly number[]): ReturnType<PopulationService['namesOf']> {
    return this.population.namesOf(ids);
  }
}
