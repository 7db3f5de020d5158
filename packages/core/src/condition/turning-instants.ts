import { type ActivityKinds, isByThem } from '../activity/activity-kind';
import { happeningTurns } from '../activity/happened';
import { dayNumber, dayOf, startOfDay } from '../record/day';
import { HOUR } from '../record/hours';
import type { Instant } from '../record/keys';
import type { RecordFacts } from '../record/record';
import { wholeDaysOver } from '../record/stage-days';
import { type ReadyCondition, type ReadyTest, readyTestsIn } from './ready';
import type { DaySubject } from './subject';

/** A record, and what its conditions depend on as time passes. */
export interface Turning {
  readonly record: Pick<RecordFacts, 'values' | 'arrived' | 'activities'>;
  readonly timeZone: string;
  readonly kinds: ActivityKinds;
  /** When it entered its stage; null: no condition asks about it. */
  readonly stageSince: Instant | null;
}

/** Instants, ascending, at which some test may answer otherwise than before, though nothing but time has passed. */
export function turningInstants(conditions: readonly ReadyCondition[], turning: Turning): readonly Instant[] {
  const instants = new Set<Instant>();
  for (const condition of conditions)
    for (const test of readyTestsIn(condition)) for (const at of turnsOf(test, turning)) instants.add(at);
  return [...instants].sort((a, b) => a - b);
}

function turnsOf(test: ReadyTest, turning: Turning): readonly Instant[] {
  const { subject } = test;
  switch (subject.kind) {
    case 'days-since':
      return daysOf(subject.day, turning)
        .flatMap((day) =>
          endsOf(test).flatMap((end) => [0, 1].map((after) => startOfDay(day + end + after, turning.timeZone))),
        )
        .concat(subject.day.kind === 'last-activity' ? byThem(turning) : []);
    case 'happened':
      return happeningTurns(subject, turning.record.activities);
    case 'last-activity':
      return byThem(turning);
    case 'days-in-stage': {
      const { stageSince, timeZone } = turning;
      if (stageSince === null) return [];
      return endsOf(test).flatMap((end) => [0, 1].map((after) => wholeDaysOver(stageSince, end + after, timeZone)));
    }
    case 'hours-in-stage': {
      const { stageSince } = turning;
      if (stageSince === null) return [];
      return endsOf(test).flatMap((end) => [0, 1].map((after) => stageSince + (end + after) * HOUR));
    }
    default:
      return [];
  }
}

function endsOf(test: ReadyTest): readonly number[] {
  return test.kind === 'number-in' ? [test.from, test.to].flatMap((end) => (end === null ? [] : [end.at])) : [];
}

function byThem({ record, kinds }: Turning): Instant[] {
  return record.activities.flatMap(({ kind, at }) => (isByThem(kinds, kind) ? [at] : []));
}

/** The days from which a test counts. */
function daysOf(day: DaySubject, turning: Turning): readonly number[] {
  const { record, timeZone } = turning;
  switch (day.kind) {
    case 'field': {
      const value = record.values.get(day.field);
      return value?.kind === 'date' ? [dayNumber(value.day)] : [];
    }
    case 'arrived':
      return [dayNumber(dayOf(record.arrived, timeZone))];
    case 'last-activity':
      return byThem(turning).map((at) => dayNumber(dayOf(at, timeZone)));
  }
}
