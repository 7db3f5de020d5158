import { dayNumber } from '../record/day';
import type { LeadRecord } from '../record/record';
import type { ReadyCondition } from './ready';

/** Days, ascending, on which some test of "so many days ago" may answer otherwise than the day before. */
export function turningDays(
  conditions: readonly ReadyCondition[],
  record: Pick<LeadRecord, 'values'>,
): readonly number[] {
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
  conditions.forEach(visit);
  return [...days].sort((a, b) => a - b);
}
