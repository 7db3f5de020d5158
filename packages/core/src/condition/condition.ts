import type { Predicate } from './predicate';
import type { Subject } from './subject';

/** A single question: what is asked about, and what is asked of it. */
export type Test = { readonly subject: Subject } & Predicate;

/** A condition as the charter keeps it. `all` of nothing always holds. */
export type Condition =
  | { readonly test: 'all' | 'any'; readonly of: readonly Condition[] }
  | { readonly test: 'not'; readonly of: Condition }
  | Test;

/** Nesting deeper than this is refused. */
export const MAX_DEPTH = 20;
/** More tests than this in one condition are refused. */
export const MAX_TESTS = 1000;

/** Every test of a condition, in the order in which they stand. */
export function* testsIn(condition: Condition): Generator<Test> {
  switch (condition.test) {
    case 'all':
    case 'any':
      for (const part of condition.of) yield* testsIn(part);
      return;
    case 'not':
      yield* testsIn(condition.of);
      return;
    default:
      yield condition;
  }
}

/** The same condition with each test changed; the same object where none is. */
export function mapTests(condition: Condition, change: (test: Test) => Test): Condition {
  switch (condition.test) {
    case 'all':
    case 'any': {
      const of = condition.of.map((part) => mapTests(part, change));
      return of.every((part, i) => part === condition.of[i]) ? condition : { ...condition, of };
    }
    case 'not': {
      const of = mapTests(condition.of, change);
      return of === condition.of ? condition : { ...condition, of };
    }
    default:
      return change(condition);
  }
}
