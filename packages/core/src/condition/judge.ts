import { choiceIn } from '../record/choices';
import { hasPart } from '../record/text-part';
import type { Value } from '../record/value';
import { allOf, type Answer, anyOf, notOf } from './answer';
import type { Facts } from './facts';
import type { ReadyBound, ReadyCondition, ReadyPredicate, ReadyTest } from './ready';
import { rowOf } from './subject-table';

/** Whether a value lies in a range; an end belongs to it where it says so, a missing end is no bound. */
export function within<T extends number | string>(
  value: T,
  from: ReadyBound<T> | null,
  to: ReadyBound<T> | null,
): boolean {
  if (from !== null && (from.included ? value < from.at : value <= from.at)) return false;
  return to === null || (to.included ? value <= to.at : value < to.at);
}

/** The test that a predicate makes of a folded text, or of a folded combination of options: built once, run on many. */
export function textTest(predicate: ReadyPredicate): (folded: string) => boolean {
  switch (predicate.kind) {
    case 'text-in':
      return (folded) => predicate.folded.has(folded);
    case 'text-part':
      return (folded) => hasPart(predicate, folded);
    case 'any-of':
    case 'all-of': {
      const options = [...predicate.folded].map(choiceIn);
      return predicate.kind === 'any-of'
        ? (folded) => options.some((option) => folded.includes(option))
        : (folded) => options.every((option) => folded.includes(option));
    }
    case 'yes-no':
    case 'number-in':
    case 'money-in':
    case 'day-in':
    case 'blank':
      return () => false;
  }
}

/** Whether a predicate on texts passes a folded one, or one on several options a folded combination. */
export function passesText(predicate: ReadyPredicate, folded: string): boolean {
  return textTest(predicate)(folded);
}

function holds(test: ReadyTest, value: Value, facts: Facts): boolean | null {
  switch (test.kind) {
    case 'text-in':
    case 'text-part':
      return value.kind === 'text' && passesText(test, value.folded);
    case 'any-of':
    case 'all-of':
      return value.kind === 'choices' && passesText(test, value.folded);
    case 'yes-no':
      return value.kind === 'yes-no' && value.yes === test.yes;
    case 'number-in':
      return value.kind === 'number' && within(value.scaled, test.from, test.to);
    case 'day-in':
      return value.kind === 'date' && within(value.day, test.from, test.to);
    case 'money-in': {
      if (value.kind !== 'money') return false;
      const amount = facts.inBase(value);
      return amount === null ? null : within(amount, test.from, test.to);
    }
    case 'blank':
      return false;
  }
}

/** One test on one record. */
export function judgeTest(test: ReadyTest, facts: Facts): Answer {
  const value = rowOf(test.subject).value(test.subject, facts);
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
