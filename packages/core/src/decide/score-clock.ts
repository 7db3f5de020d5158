import type { ReadyCharter } from '../charter/ready-charter';
import type { Facts } from '../condition/facts';
import { judge } from '../condition/judge';
import { type Turning, turningInstants } from '../condition/turning-instants';
import type { Instant } from '../record/keys';
import type { AnyRecord } from '../record/record';
import { PointsTally } from '../score/points-tally';
import type { ReadyScoreSet } from '../score/score-record';
import type { AxisBounds } from '../score/score-set';
import { total } from '../score/total';
import { activityMotion, happenings } from '../signal/activity-signal';
import type { Motion } from '../signal/motion';
import { MICRO, type Micro, toMicro } from '../signal/points';
import type { ActivitySignal, Axis, ReadySignal, SilenceSignal } from '../signal/signal';
import { silenceMotion, silentSince } from '../signal/silence-signal';
import { type FactsAround, GatheredFacts } from './facts';

/** An axis at one instant, and how fast it can move by fading alone. */
export interface AxisMoment {
  /** Null: it can't be judged. */
  readonly score: number | null;
  readonly sum: Micro;
  /** The rest of faded points above and below zero: the most by which the sum can still sink, or rise. */
  readonly above: Micro;
  readonly below: Micro;
  /** By at most so much it sinks, or rises, each time that all ages become an hour more. */
  readonly sinks: Micro;
  readonly rises: Micro;
}

export interface Moment {
  readonly axes: Readonly<Record<Axis, AxisMoment>>;
  /** The next instant at which something other than fading happens; null: none. */
  readonly turn: Instant | null;
  /** The next instant at which some age becomes an hour more; null: nothing fades. */
  readonly tick: Instant | null;
}

/**
 * By how much a sum can sink and rise without becoming another score.
 *
 * A sum is rounded half away from zero, then held to the bounds: at a bound there is no end on its far side.
 */
export function slackOf(
  sum: Micro,
  { least, most, decimals }: AxisBounds,
): { readonly down: Micro; readonly up: Micro } {
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
export function clockOf({ charter }: ReadyCharter, record: AnyRecord, { kinds }: FactsAround): Turning {
  return { record, timeZone: charter.timeZone, kinds, stageSince: null };
}

/** The scores that a set gives a record at one instant after the other; parts that do not move are computed once. */
export class ScoreClock {
  private readonly signals: readonly ReadySignal[];
  /** When some test may answer otherwise than before, ascending. */
  private readonly turns: readonly Instant[];
  /** Activity signals with what happened of them; those of which nothing did are left out. */
  private readonly happened: readonly { readonly signal: ActivitySignal; readonly times: readonly Instant[] }[];
  private readonly silences: readonly SilenceSignal[];
  private judgedUntil = -Infinity;
  private still: Readonly<Record<Axis, PointsTally | null>> = { fit: null, engagement: null };

  constructor(
    private readonly charter: ReadyCharter,
    private readonly set: ReadyScoreSet,
    private readonly record: AnyRecord,
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
    const facts: Facts = GatheredFacts.of(this.record, this.around, this.charter, now);
    const of = (axis: Axis): PointsTally | null => {
      const tally = new PointsTally();
      for (const signal of this.signals) {
        if (signal.kind !== 'attribute' || signal.axis !== axis) continue;
        const answer = judge(signal.ready, facts);
        if (answer === 'unjudged') return null;
        if (answer === 'yes') tally.add(signal.group, toMicro(signal.points));
      }
      return tally;
    };
    this.still = { fit: of('fit'), engagement: of('engagement') };
  }

  private axisAt(axis: Axis, now: Instant, coming: Earliest, tick: Earliest): AxisMoment {
    const still = this.still[axis];
    if (still === null) return { score: null, sum: 0, above: 0, below: 0, sinks: 0, rises: 0 };
    const { groups, [axis]: bounds } = this.set;
    const tally = still.copy();
    const motions = this.motionsOf(axis, now);
    let [above, below, sinks, rises] = [0, 0, 0, 0];
    for (const { signal, motion } of motions) {
      tally.add(signal.group, motion.micro);
      above += motion.above;
      below += motion.below;
      sinks += motion.sinks;
      rises += motion.rises;
      if (motion.tick !== null) tick.take(motion.tick);
      for (const at of motion.turns) coming.take(at);
    }
    const sum = tally.sum(groups);
    const { down, up } = slackOf(sum, bounds);
    // At a bound, silence that pushes beyond it changes nothing, however long it lasts.
    for (const {
      motion: { step },
    } of motions)
      if (step !== null && (step.by < 0 ? down !== Infinity : up !== Infinity)) coming.take(step.at);
    return { score: total([sum], bounds).score, sum, above, below, sinks, rises };
  }

  private motionsOf(axis: Axis, now: Instant): readonly { readonly signal: ReadySignal; readonly motion: Motion }[] {
    const activities = this.happened
      .filter(({ signal }) => signal.axis === axis)
      .map(({ signal, times }) => ({ signal, motion: activityMotion(signal, times, now) }));
    const silences = this.silences.filter((signal) => signal.axis === axis);
    if (silences.length === 0) return activities;
    const since = silentSince(this.set.kinds, this.record.activities, this.record.arrived, now);
    return [...activities, ...silences.map((signal) => ({ signal, motion: silenceMotion(signal, since, now) }))];
  }
}

/** The earliest of several instants that lies after one. */
class Earliest {
  at: Instant | null = null;

  constructor(private readonly after: Instant) {}

  take(at: Instant): void {
    if (at > this.after && at < (this.at ?? Infinity)) this.at = at;
  }
}
