import { dayNumber } from '../record/day';
import type { Value } from '../record/value';
import { allOf, type Answer, anyOf, notOf } from './answer';
import type { ReadyBound, ReadyCondition, ReadyTest } from './ready';

/** What conditions can ask of a record at one moment. */
export interface Facts {
  /** The value under a field's key, computed ones included; a field that was never filled is blank. */
  value(field: string): Value;
  /** The amount under a field in the base currency's smallest unit; `null` without a rate. */
  inBase(field: string): number | null;
  /** The day of the decision, in days since 1970-01-01. */
  today(): number;
}

/** Whether a value lies in a range; an end belongs to it where it says so, a missing end is no bound. */
export function within<T extends number | string>(
  value: T,
  from: ReadyBound<T> | null,
  to: ReadyBound<T> | null,
): boolean {
  if (from !== null && (from.included ? value < from.at : value <= from.at)) return false;
  return to === null || (to.included ? value <= to.at : value < to.at);
}

/** Whether a folded text has one of the parts asked for. */
export function hasPart(test: Pick<ReadyTest & { kind: 'text-part' }, 'part' | 'folded'>, folded: string): boolean {
  switch (test.part) {
    case 'contains':
      return test.folded.some((part) => folded.includes(part));
    case 'starts-with':
      return test.folded.some((part) => folded.startsWith(part));
    case 'ends-with':
      return test.folded.some((part) => folded.endsWith(part));
  }
}

function holds(test: ReadyTest, value: Value, facts: Facts): boolean | null {
  switch (test.kind) {
    case 'text-in':
      return value.kind === 'text' && test.folded.has(value.folded);
    case 'text-part':
      return value.kind === 'text' && hasPart(test, value.folded);
    case 'yes-no':
      return value.kind === 'yes-no' && value.yes === test.yes;
    case 'number-in':
      return value.kind === 'number' && within(value.scaled, test.from, test.to);
    case 'day-in':
      return value.kind === 'date' && within(value.day, test.from, test.to);
    case 'days-ago-in':
      return value.kind === 'date' && within(facts.today() - dayNumber(value.day), test.from, test.to);
    case 'currency-in':
      return value.kind === 'money' && test.codes.has(value.currency);
    case 'money-in': {
      const amount = facts.inBase(test.field);
      return amount === null ? null : within(amount, test.from, test.to);
    }
    case 'blank':
      return false;
  }
}

/** One field test on one record. */
export function judgeTest(test: ReadyTest, facts: Facts): Answer {
  const value = facts.value(test.field);
  if (value.kind === 'blank') return test.kind === 'blank' ? 'yes' : 'no';
  if (test.kind === 'blank') return 'no';
  if (value.kind === 'unreadable') return 'unjudged';
  const held = holds(test, value, facts);
  if (held === null) return 'unjudged';
  return held ? 'yes' : 'no';
}

/**
 * Whether a condition holds for a record, without an account of why.
 *
 * A blank value makes a test "no" (`blank` excepted), so `not` of a test holds for blanks. A value that can't be read
 * leaves the test unjudged, and the condition too unless the rest settles it.
 */
export function judge(condition: ReadyCondition, facts: Facts): Answer {
  switch (condition.kind) {
    case 'all':
      return allOf(answersOf(condition.of, facts));
    case 'any':
      return anyOf(answersOf(condition.of, facts));
    case 'not':
      return notOf(judge(condition.of, facts));
    default:
      return judgeTest(condition, facts);
  }
}

function* answersOf(conditions: readonly ReadyCondition[], facts: Facts): Generator<Answer> {
  for (const condition of conditions) yield judge(condition, facts);
}
