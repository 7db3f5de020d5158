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

/** Of several options at once: how many of those named must be among them. */
export const CHOICE_TESTS = ['any-of', 'all-of'] as const;
export type ChoiceTest = (typeof CHOICE_TESTS)[number];

/** A predicate on a subject. Text compares folded. A blank value makes each of them "no", but `blank`. */
export type Predicate =
  /** Of a number, a day, and yes or no: the one value that it is. */
  | Values<'one-of'>
  /** Of territories: one of these, or one inside them at any depth. */
  | Values<'inside'>
  /** Any of the values is part of the text. */
  | Values<TextPart>
  /** Of several options at once; "none of" is `not` of "any of". */
  | Values<ChoiceTest>
  | { readonly test: 'range'; readonly from: Bound | null; readonly to: Bound | null }
  | { readonly test: 'blank' };

export type PredicateKind = Predicate['test'];
