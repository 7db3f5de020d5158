import type { ReadyCharter } from '../charter/ready-charter';
import { turningInstants } from '../condition/turning-instants';
import { HOUR, HOURS_A_DAY } from '../record/hours';
import type { Instant } from '../record/keys';
import type { AnyRecord } from '../record/record';
import { admissionOf } from '../score/score-by-sets';
import type { ReadyScoreSet } from '../score/score-record';
import type { AxisBounds } from '../score/score-set';
import { LONGEST_FADE } from '../signal/fade';
import { AXES } from '../signal/signal';
import { type FactsAround, GatheredFacts } from './facts';
import { type AxisMoment, clockOf, type Moment, ScoreClock, slackOf } from './score-clock';

/** The latest instant that is looked for, in hours from the one asked about. */
const FARTHEST = LONGEST_FADE * HOURS_A_DAY;

/**
 * The earliest instant after `asOf` at which a record's score, on either axis of any set that admits it, is another by the
 * passing of time alone: by fading, the end of a window, silence, or a date that is so many days ago; or at which the day
 * brings it into another set, or out of one.
 *
 * What is found is exact: up to it the scores shown stay the same. Where nothing changes for ten years, those ten years.
 */
export function scoresChangeAt(charter: ReadyCharter, record: AnyRecord, around: FactsAround, asOf: Instant): Instant {
  const facts = GatheredFacts.of(record, around, charter, asOf);
  const { grading, beside } = admissionOf(charter.rules[record.kind].scoreSets, facts);
  let last = entriesChangeAt(charter, record, around, asOf) ?? asOf + FARTHEST * HOUR;
  for (const set of grading === null ? beside : [grading, ...beside])
    last = setChangesAt(new ScoreClock(charter, set, record, around), set, asOf, last);
  return last;
}

/** When the day first brings a record into another set, or out of one; null: never. */
function entriesChangeAt(charter: ReadyCharter, record: AnyRecord, around: FactsAround, asOf: Instant): Instant | null {
  const entries = charter.rules[record.kind].scoreSets.filter((set) => set.on).map(({ ready }) => ready);
  const turns = turningInstants(entries, clockOf(charter, record, around));
  if (turns.length === 0) return null;
  const setsAt = (at: Instant): string => {
    const { admitted, grading, beside } = admissionOf(
      charter.rules[record.kind].scoreSets,
      GatheredFacts.of(record, around, charter, at),
    );
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
