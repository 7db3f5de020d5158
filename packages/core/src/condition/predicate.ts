import type { TextPart } from '../record/text-part';

/** One end of a range, and whether the end itself belongs to it. */
export interface Bound {
  /** A decimal number as text, an amount in the base currency, a day, or a number of days. */
  readonly at: string;
  readonly included: boolean;
}

interface Values<T extends string> {
  readonly test: T;
  readonly values: readonly string[];
}

/** A predicate on a subject. Text compares folded. A blank value makes each of them "no", but `blank`. */
export type Predicate =
  /** Of a number, a day, and yes or no: the one value that it is. */
  | Values<'one-of'>
  /** Of territories: one of these, or one inside them at any depth. */
  | Values<'inside'>
  /** Any of the values is part of the text. */
  | Values<TextPart>
  | { readonly test: 'range'; readonly from: Bound | null; readonly to: Bound | null }
  | { readonly test: 'blank' };

export type PredicateKind = Predicate['test'];
