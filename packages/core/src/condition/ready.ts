import type { TextParts } from '../record/text-part';
import type { ChoiceTest } from './predicate';
import type { Test } from './condition';
import type { Subject } from './subject';

/** One end of a range on scaled numbers or days. */
export interface ReadyBound<T> {
  readonly at: T;
  readonly included: boolean;
}

interface Span<T> {
  readonly from: ReadyBound<T> | null;
  readonly to: ReadyBound<T> | null;
}

/** A predicate with its literals folded, scaled and looked up once. */
export type ReadyPredicate =
  | { readonly kind: 'text-in'; readonly folded: ReadonlySet<string> }
  | ({ readonly kind: 'text-part' } & TextParts)
  /** Of combinations of options. */
  | { readonly kind: ChoiceTest; readonly folded: ReadonlySet<string> }
  | { readonly kind: 'yes-no'; readonly yes: boolean }
  /** In the unit of the value: its decimals are those of the subject. */
  | ({ readonly kind: 'number-in' } & Span<number>)
  | ({ readonly kind: 'money-in' } & Span<number>)
  | ({ readonly kind: 'day-in' } & Span<string>)
  | { readonly kind: 'blank' };

/** A test that can be judged. */
export type ReadyTest = { readonly subject: Subject; readonly source: Test } & ReadyPredicate;

/** A condition that can be judged: bound to a catalogue of fields. */
export type ReadyCondition =
  | { readonly kind: 'all' | 'any'; readonly of: readonly ReadyCondition[] }
  | { readonly kind: 'not'; readonly of: ReadyCondition }
  | ReadyTest;

/** Every test of a ready condition, in the order in which they stand. */
export function* readyTestsIn(condition: ReadyCondition): Generator<ReadyTest> {
  switch (condition.kind) {
    case 'all':
    case 'any':
      for (const part of condition.of) yield* readyTestsIn(part);
      return;
    case 'not':
      yield* readyTestsIn(condition.of);
      return;
    default:
      yield condition;
  }
}
