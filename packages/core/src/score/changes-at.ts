import type { ReadyCharter } from '../charter/ready-charter';
import type { ReadyCondition } from '../condition/ready';
import { type Facts, judge } from '../condition/judge';
import { LeadFacts } from '../facts';
import { dayNumber, dayOf, startOfDay } from '../record/day';
import type { Instant } from '../record/keys';
import type { Rates } from '../record/money';
import type { LeadRecord } from '../record/record';
import { countedActivities, countSilence, heldTo, silentSince } from './activity-points';
import { ageInHours, faded, HOUR, HOURS_A_DAY, LONGEST_FADE } from './fade';
import { type Micro, MICRO, toMicro, total } from './points';
import { hasProperties } from './property-test';
import type { ReadyScoreSet, ReadySignal } from './score-record';
import { type ActivitySignal, AXES, type Axis, type AxisBounds } from './score-set';

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
 * The earliest instant after `asOf` at which a record's score, on either axis, is another by the passing of time alone: by
 * fading, the end of a window, silence, or a date that is so many days ago.
 *
 * What is found is exact: up to it the scores shown stay the same. Where nothing changes for ten years, those ten years.
 */
export function changesAt(charter: ReadyCharter, record: LeadRecord, rates: Rates, asOf: Instant): Instant {
  const clock = new ScoreClock(charter, record, rates);
  const start = clock.at(asOf);
  const last = asOf + FARTHEST * HOUR;
  let now = asOf;
  let moment = start;
  for (;;) {
    const next = nextLook(charter.scoreSet, moment, now, last);
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

/** What a record gets at one instant after the other. */
class ScoreClock {
  private readonly signals: readonly ReadySignal[];
  private readonly days: readonly number[];
  private day = NaN;
  private answers = new Map<string, ReturnType<typeof judge>>();

  constructor(
    private readonly charter: ReadyCharter,
    private readonly record: LeadRecord,
    private readonly rates: Rates,
  ) {
    this.signals = charter.scoreSet.signals.filter((signal) => signal.on);
    this.days = turningDays(this.signals, record);
  }

  private get zone(): string {
    return this.charter.charter.timeZone;
  }

  at(now: Instant): Moment {
    const turns: Instant[] = [];
    const ticks: Instant[] = [];
    const today = this.judgeAttributes(now);
    const nextDay = this.days.find((day) => day > today);
    if (nextDay !== undefined) turns.push(startOfDay(nextDay, this.zone));
    for (const { at } of this.record.activities) if (at > now) turns.push(at);
    const axis = (of: Axis): AxisMoment => this.axisAt(of, now, turns, ticks);
    const axes = { fit: axis('fit'), engagement: axis('engagement') };
    const first = (list: readonly Instant[]): Instant | null => (list.length === 0 ? null : Math.min(...list));
    return { axes, turn: first(turns), tick: first(ticks) };
  }

  /** Conditions are judged once a day: nothing else that they read moves. */
  private judgeAttributes(now: Instant): number {
    const today = dayNumber(dayOf(now, this.zone));
    if (today !== this.day) {
      const facts: Facts = LeadFacts.of(this.record, this.rates, this.charter, now);
      this.answers = new Map(
        this.signals.flatMap((signal) =>
          signal.kind === 'attribute' ? [[signal.key, judge(signal.ready, facts)] as const] : [],
        ),
      );
      this.day = today;
    }
    return today;
  }

  private axisAt(axis: Axis, now: Instant, turns: Instant[], ticks: Instant[]): AxisMoment {
    const { scoreSet } = this.charter;
    const { activities, arrived } = this.record;
    const parts: Micro[] = [];
    const grouped = new Map<string, Micro>();
    const steps: { readonly points: number; readonly at: Instant }[] = [];
    let judged = true;
    let above = 0;
    let below = 0;
    let sinks = 0;
    let rises = 0;
    for (const signal of this.signals) {
      if (signal.axis !== axis) continue;
      let micro: Micro = 0;
      switch (signal.kind) {
        case 'attribute': {
          const answer = this.answers.get(signal.key);
          if (answer === 'unjudged') judged = false;
          micro = answer === 'yes' ? toMicro(signal.points) : 0;
          break;
        }
        case 'silence': {
          const since = silentSince(scoreSet.kinds, activities, arrived, now);
          const seen = countSilence(signal, since, now);
          micro = seen.micro;
          if (signal.most === null || seen.counted < signal.most)
            steps.push({ points: signal.points, at: since + (seen.counted + 1) * signal.every * HOURS_A_DAY * HOUR });
          break;
        }
        case 'activity': {
          turns.push(...this.windowEnds(signal, now));
          const each = toMicro(signal.points);
          for (const at of countedActivities(signal, activities, now).counted) {
            const age = ageInHours(at, now);
            const left = faded(each, signal.fade, age);
            micro += left;
            if (signal.fade === null || left === 0) continue;
            ticks.push(at + (age + 1) * HOUR);
            const step = mostLost(signal, each, left);
            if (left > 0) [above, sinks] = [above + left, sinks + step];
            else [below, rises] = [below - left, rises + step];
          }
          micro = heldTo(signal.cap, micro);
        }
      }
      if (micro === 0) continue;
      if (signal.group === null) parts.push(micro);
      else grouped.set(signal.group, (grouped.get(signal.group) ?? 0) + micro);
    }
    for (const { key, cap } of scoreSet.groups) parts.push(heldTo(cap, grouped.get(key) ?? 0));
    const sum = parts.reduce((all, part) => all + part, 0);
    const { down, up } = slackOf(sum, scoreSet[axis]);
    // At a bound, silence that pushes beyond it changes nothing, however long it lasts.
    for (const { points, at } of steps) if (points < 0 ? down !== Infinity : up !== Infinity) turns.push(at);
    return { score: judged ? total(parts, scoreSet[axis]).score : null, sum, above, below, sinks, rises };
  }

  /** When what lies in a window leaves it. */
  private windowEnds({ activity: kind, window, having }: ActivitySignal, now: Instant): Instant[] {
    if (window === null) return [];
    return this.record.activities
      .filter((activity) => activity.kind === kind && hasProperties(activity, having))
      .map(({ at }) => at + window * HOURS_A_DAY * HOUR)
      .filter((end) => end > now);
  }
}

/** The most that an activity loses in an hour from now on, a millionth for rounding included. */
function mostLost({ fade }: ActivitySignal, each: Micro, left: Micro): Micro {
  if (fade === null) return 0;
  const span = fade.days * HOURS_A_DAY;
  return (fade.kind === 'half-life' ? ((Math.abs(left) + 1) * Math.LN2) / span : Math.abs(each) / span) + 1;
}

/** Days, ascending, on which some test of "so many days ago" may answer otherwise than the day before. */
function turningDays(signals: readonly ReadySignal[], record: LeadRecord): readonly number[] {
  const days = new Set<number>();
  const visit = (condition: ReadyCondition): void => {
    switch (condition.kind) {
      case 'all':
      case 'any':
        condition.of.forEach(visit);
        return;
      case 'not':
        visit(condition.of);
        return;
      case 'days-ago-in': {
        const value = record.values.get(condition.field);
        if (value?.kind !== 'date') return;
        for (const end of [condition.from, condition.to])
          if (end !== null) for (const after of [0, 1]) days.add(dayNumber(value.day) + end.at + after);
        return;
      }
      default:
        return;
    }
  };
  for (const signal of signals) if (signal.kind === 'attribute') visit(signal.ready);
  return [...days].sort((a, b) => a - b);
}
