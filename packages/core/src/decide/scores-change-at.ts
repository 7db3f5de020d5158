import type { ReadyCharter } from '../charter/ready-charter';
import type { Facts } from '../condition/facts';
import { judge } from '../condition/judge';
import { type Turning, turningInstants } from '../condition/turning-instants';
import { type FactsAround, LeadFacts } from './facts';
import type { Instant } from '../record/keys';
import type { LeadRecord } from '../record/record';
import { countedOf, countSilence, happenings, heldTo, silentSince } from '../score/activity-points';
import { ageInHours, faded, HOUR, HOURS_A_DAY, LONGEST_FADE } from '../score/fade';
import { type Micro, MICRO, toMicro, total } from '../score/points';
import { admissionOf } from '../score/score-by-sets';
import type { ReadyScoreSet, ReadySignal } from '../score/score-record';
import { type ActivitySignal, AXES, type Axis, type AxisBounds, type SilenceSignal } from '../score/score-set';

/** An axis at one instant, and how fast it can move by fading alone. */
interface AxisMoment {
  /** Null: it can't be judged. */
  readonly score: number | null;
  readonly sum: Micro;
  /** What is left of faded points above and below zero: by at most so much the sum can still sink, or rise. */
  readonly above: Micro;
  readonly below: Micro;
  /** By at most so much it sinks, or rises, each time that all ages become an hour more. */
  readonly sinks: Micro;
  readonly rises: Micro;
}

interface Moment {
  readonly axes: Readonly<Record<Axis, AxisMoment>>;
  /** The next instant at which something other than fading happens; null: none. */
  readonly turn: Instant | null;
  /** The next instant at which some age becomes an hour more; null: nothing fades. */
  readonly tick: Instant | null;
}

/** The latest instant that is looked for, in hours from the one asked about. */
const FARTHEST = LONGEST_FADE * HOURS_A_DAY;

/**
 * The earliest instant after `asOf` at which a record's score, on either axis of any set that admits it, is another by the
 * passing of time alone: by fading, the end of a window, silence, or a date that is so many days ago; or at which the day
 * brings it into another set, or out of one.
 *
 * What is found is exact: up to it the scores shown stay the same. Where nothing changes for ten years, those ten years.
 */
export function scoresChangeAt(charter: ReadyCharter, record: LeadRecord, around: FactsAround, asOf: Instant): Instant {
  const facts = LeadFacts.of(record, around, charter, asOf);
  const { grading, beside } = admissionOf(charter.scoreSets, facts);
  let last = entriesChangeAt(charter, record, around, asOf) ?? asOf + FARTHEST * HOUR;
  for (const set of grading === null ? beside : [grading, ...beside])
    last = setChangesAt(new ScoreClock(charter, set, record, around), set, asOf, last);
  return last;
}

/** When the day first brings a record into another set, or out of one; null: never. */
function entriesChangeAt(
  charter: ReadyCharter,
  record: LeadRecord,
  around: FactsAround,
  asOf: Instant,
): Instant | null {
  const entries = charter.scoreSets.filter((set) => set.on).map(({ ready }) => ready);
  const turns = turningInstants(entries, clockOf(charter, record, around));
  if (turns.length === 0) return null;
  const setsAt = (at: Instant): string => {
    const { admitted, grading, beside } = admissionOf(charter.scoreSets, LeadFacts.of(record, around, charter, at));
    return JSON.stringify([admitted, grading?.key, beside.map(({ key }) => key)]);
  };
  const before = setsAt(asOf);
  return turns.find((at) => at > asOf && setsAt(at) !== before) ?? null;
}

/** The same for the scores of one set, up to the last instant that is looked for. */
function setChangesAt(clock: ScoreClock, set: ReadyScoreSet, asOf: Instant, last: Instant): Instant {
  if (clock.standsStill(asOf)) return last;
  const start = clock.at(asOf);
  let now = asOf;
  let moment = start;
  for (;;) {
    const next = nextLook(set, moment, now, last);
    if (next >= last) return last;
    now = next;
    moment = clock.at(now);
    if (AXES.some((axis) => moment.axes[axis].score !== start.axes[axis].score)) return now;
  }
}

/** The next instant at which a score may be another: between two looks none is. */
function nextLook(set: ReadyScoreSet, { axes, turn, tick }: Moment, now: Instant, last: Instant): Instant {
  let hours = Infinity;
  for (const axis of AXES) hours = Math.min(hours, stillFor(axes[axis], set[axis]));
  const fades = hours >= 1 ? now + Math.min(hours, FARTHEST) * HOUR : (tick ?? last);
  return Math.min(turn ?? last, fades, last);
}

/** For how many whole hours fading alone leaves an axis its score. */
function stillFor({ score, sum, above, below, sinks, rises }: AxisMoment, bounds: AxisBounds): number {
  // Without a score nothing fades into one.
  if (score === null) return Infinity;
  const { down, up } = slackOf(sum, bounds);
  const sinking = above <= down ? Infinity : Math.floor(down / sinks);
  const rising = below <= up ? Infinity : Math.floor(up / rises);
  return Math.min(sinking, rising);
}

/**
 * By how much a sum can sink and rise without becoming another score.
 *
 * A sum is rounded half away from zero, then held to the bounds: at a bound there is no end on its far side.
 */
function slackOf(sum: Micro, { least, most, decimals }: AxisBounds): { readonly down: Micro; readonly up: Micro } {
  const unit = MICRO / 10 ** decimals;
  const rounded = Math.sign(sum) * Math.floor((Math.abs(sum) + unit / 2) / unit) * unit;
  const [low, high] = [toMicro(least), toMicro(most)];
  const down =
    rounded <= low ? Infinity : sum - lowEdge(rounded >= high ? Math.ceil(high / unit) * unit : rounded, unit);
  const up =
    rounded >= high ? Infinity : highEdge(rounded <= low ? Math.floor(low / unit) * unit : rounded, unit) - sum;
  return { down, up };
}

/** The smallest sum that is rounded to a number, and the largest. */
function lowEdge(rounded: Micro, unit: Micro): Micro {
  return rounded - unit / 2 + (rounded > 0 ? 0 : 1);
}
function highEdge(rounded: Micro, unit: Micro): Micro {
  return rounded + unit / 2 - (rounded < 0 ? 0 : 1);
}

/** Conditions of score sets ask about no stage. */
function clockOf({ charter }: ReadyCharter, record: LeadRecord, { kinds }: FactsAround): Turning {
  return { record, timeZone: charter.timeZone, kinds, stageSince: null };
}

/** What a record gets of a set at one instant after the other. What does not move is computed once. */
class ScoreClock {
  private readonly signals: readonly ReadySignal[];
  /** When some test may answer otherwise than before, ascending. */
  private readonly turns: readonly Instant[];
  /** Activity signals with what happened of them; those of which nothing did are left out. */
  private readonly happened: readonly { readonly signal: ActivitySignal; readonly times: readonly Instant[] }[];
  private readonly silences: readonly SilenceSignal[];
  private judgedUntil = -Infinity;
  private still: Readonly<Record<Axis, Still>> = { fit: NOTHING, engagement: NOTHING };

  constructor(
    private readonly charter: ReadyCharter,
    private readonly set: ReadyScoreSet,
    private readonly record: LeadRecord,
    private readonly around: FactsAround,
  ) {
    this.signals = set.signals.filter((signal) => signal.on);
    const conditions = this.signals.flatMap((signal) => (signal.kind === 'attribute' ? [signal.ready] : []));
    this.turns = turningInstants(conditions, clockOf(charter, record, around));
    this.happened = this.signals.flatMap((signal) => {
      if (signal.kind !== 'activity') return [];
      const times = happenings(signal, record.activities);
      return times.length === 0 ? [] : [{ signal, times }];
    });
    this.silences = this.signals.filter((signal) => signal.kind === 'silence');
  }

  /** Whether nothing can move from an instant on: nothing happened that counts, no silence does, and no day is asked for. */
  standsStill(from: Instant): boolean {
    return this.happened.length === 0 && this.silences.length === 0 && this.turns.every((at) => at <= from);
  }

  at(now: Instant): Moment {
    if (now >= this.judgedUntil) this.judge(now);
    const coming = new Earliest(now);
    const tick = new Earliest(now);
    coming.take(this.judgedUntil);
    for (const { at } of this.record.activities) coming.take(at);
    const axis = (of: Axis): AxisMoment => this.axisAt(of, now, coming, tick);
    const axes = { fit: axis('fit'), engagement: axis('engagement') };
    return { axes, turn: coming.at, tick: tick.at };
  }

  /** Conditions are judged again only when a day changes what some test of them says. */
  private judge(now: Instant): void {
    this.judgedUntil = this.turns.find((at) => at > now) ?? Infinity;
    const facts: Facts = LeadFacts.of(this.record, this.around, this.charter, now);
    const of = (axis: Axis): Still => {
      let judged = true;
      let alone = 0;
      const grouped = new Map<string, Micro>();
      for (const signal of this.signals) {
        if (signal.kind !== 'attribute' || signal.axis !== axis) continue;
        const answer = judge(signal.ready, facts);
        if (answer === 'unjudged') judged = false;
        if (answer !== 'yes') continue;
        const micro = toMicro(signal.points);
        if (signal.group === null) alone += micro;
        else grouped.set(signal.group, (grouped.get(signal.group) ?? 0) + micro);
      }
      return { judged, alone, grouped };
    };
    this.still = { fit: of('fit'), engagement: of('engagement') };
  }

  private axisAt(axis: Axis, now: Instant, coming: Earliest, tick: Earliest): AxisMoment {
    const still = this.still[axis];
    const bounds = this.set[axis];
    if (!still.judged) return { score: null, sum: 0, above: 0, below: 0, sinks: 0, rises: 0 };
    let alone = still.alone;
    const grouped = new Map(still.grouped);
    const add = (group: string | null, micro: Micro): void => {
      if (group === null) alone += micro;
      else grouped.set(group, (grouped.get(group) ?? 0) + micro);
    };
    let [above, below, sinks, rises] = [0, 0, 0, 0];
    for (const { signal, times } of this.happened) {
      if (signal.axis !== axis) continue;
      if (signal.window !== null) for (const at of times) coming.take(at + signal.window * HOURS_A_DAY * HOUR);
      const each = toMicro(signal.points);
      let micro = 0;
      for (const at of countedOf(signal, times, now).counted) {
        const age = ageInHours(at, now);
        const left = faded(each, signal.fade, age);
        micro += left;
        if (signal.fade === null || left === 0) continue;
        tick.take(at + (age + 1) * HOUR);
        const step = mostLost(signal, each, left);
        if (left > 0) [above, sinks] = [above + left, sinks + step];
        else [below, rises] = [below - left, rises + step];
      }
      add(signal.group, heldTo(signal.cap, micro));
    }
    const steps = this.silencesAt(axis, now, add);
    let sum = alone;
    for (const { key, cap } of this.set.groups) sum += heldTo(cap, grouped.get(key) ?? 0);
    const { down, up } = slackOf(sum, bounds);
    // At a bound, silence that pushes beyond it changes nothing, however long it lasts.
    for (const { points, at } of steps) if (points < 0 ? down !== Infinity : up !== Infinity) coming.take(at);
    return { score: total([sum], bounds).score, sum, above, below, sinks, rises };
  }

  /** Adds what silence gives, and says when its next steps are. */
  private silencesAt(
    axis: Axis,
    now: Instant,
    add: (group: string | null, micro: Micro) => void,
  ): readonly { readonly points: number; readonly at: Instant }[] {
    const own = this.silences.filter((signal) => signal.axis === axis);
    if (own.length === 0) return [];
    const since = silentSince(this.set.kinds, this.record.activities, this.record.arrived, now);
    return own.flatMap((signal) => {
      const { counted, micro } = countSilence(signal, since, now);
      add(signal.group, micro);
      if (signal.most !== null && counted >= signal.most) return [];
      return [{ points: signal.points, at: since + (counted + 1) * signal.every * HOURS_A_DAY * HOUR }];
    });
  }
}

/** What an axis has from conditions, until a day changes it. */
interface Still {
  readonly judged: boolean;
  readonly alone: Micro;
  readonly grouped: ReadonlyMap<string, Micro>;
}

const NOTHING: Still = { judged: true, alone: 0, grouped: new Map() };

/** The earliest of several instants that lies after one. */
class Earliest {
  at: Instant | null = null;

  constructor(private readonly after: Instant) {}

  take(at: Instant): void {
    if (at > this.after && at < (this.at ?? Infinity)) this.at = at;
  }
}

/** The most that an activity loses in an hour from now on, a millionth for rounding included. */
function mostLost({ fade }: ActivitySignal, each: Micro, left: Micro): Micro {
  if (fade === null) return 0;
  const span = fade.days * HOURS_A_DAY;
  return (fade.kind === 'half-life' ? ((Math.abs(left) + 1) * Math.LN2) / span : Math.abs(each) / span) + 1;
}
