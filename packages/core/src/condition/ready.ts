import type { FieldTest, TextPart } from './condition';

/** One end of a range on scaled numbers or days. */
export interface ReadyBound<T> {
  readonly at: T;
  readonly included: boolean;
}

interface Span<T> {
  readonly from: ReadyBound<T> | null;
  readonly to: ReadyBound<T> | null;
}

/** A field test with its literals folded, scaled and looked up once. */
export type ReadyTest = { readonly field: string; readonly source: FieldTest } & (
  | { readonly kind: 'text-in'; readonly folded: ReadonlySet<string> }
  | { readonly kind: 'text-part'; readonly part: TextPart; readonly folded: readonly string[] }
  | { readonly kind: 'yes-no'; readonly yes: boolean }
  | ({ readonly kind: 'number-in' } & Span<number>)
  | ({ readonly kind: 'money-in' } & Span<number>)
  | ({ readonly kind: 'day-in' } & Span<string>)
  | ({ readonly kind: 'days-ago-in' } & Span<number>)
  | { readonly kind: 'blank' }
  | { readonly kind: 'currency-in'; readonly codes: ReadonlySet<string> }
);

/** A condition that can be judged: bound to a catalogue of fields. */
export type ReadyCondition =
  | { readonly kind: 'all' | 'any'; readonly of: readonly ReadyCondition[] }
  | { readonly kind: 'not'; readonly of: ReadyCondition }
  | ReadyTest;
