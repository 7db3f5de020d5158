import { dayNumber } from '../record/day';
import type { LeadRecord } from '../record/record';
import { type ReadyCondition, readyTestsIn } from './ready';

/** Days, ascending, on which some test of "so many days ago" may answer otherwise than the day before. */
export function turningDays(
  conditions: readonly ReadyCondition[],
  record: Pick<LeadRecord, 'values'>,
): readonly number[] {
  const days = new Set<number>();
  for (const condition of conditions)
    for (const test of readyTestsIn(condition)) {
      if (test.subject.kind !== 'days-since' || test.kind !== 'number-in') continue;
      const value = record.values.get(test.subject.day.field);
      if (value?.kind !== 'date') continue;
      for (const end of [test.from, test.to])
        if (end !== null) for (const after of [0, 1]) days.add(dayNumber(value.day) + end.at + after);
    }
  return [...days].sort((a, b) => a - b);
}
