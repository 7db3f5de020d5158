/** One end of a range, and whether the end itself belongs to it. */
export interface Bound {
  /** A decimal number as text, an amount in the base currency, a day, or a number of days. */
  readonly at: string;
  readonly included: boolean;
}

export const TEXT_PARTS = ['contains', 'starts-with', 'ends-with'] as const;
export type TextPart = (typeof TEXT_PARTS)[number];

/** A single question about one field. Text compares folded. A blank value makes each of them "no", but `blank`. */
export type FieldTest =
  | { readonly test: 'is'; readonly field: string; readonly value: string }
  | { readonly test: 'one-of'; readonly field: string; readonly values: readonly string[] }
  /** Of territories: one of these, or one inside them at any depth. */
  | { readonly test: 'inside'; readonly field: string; readonly values: readonly string[] }
  /** Any of the values is part of the text. */
  | { readonly test: TextPart; readonly field: string; readonly values: readonly string[] }
  | { readonly test: 'range'; readonly field: string; readonly from: Bound | null; readonly to: Bound | null }
  /** So many days before the day of the decision: 0 is that day, −7 a week later. */
  | { readonly test: 'days-ago'; readonly field: string; readonly from: Bound | null; readonly to: Bound | null }
  | { readonly test: 'blank'; readonly field: string }
  /** The amount was entered in one of these currencies. */
  | { readonly test: 'currency'; readonly field: string; readonly values: readonly string[] };

/** A condition as the charter keeps it. `all` of nothing always holds. */
export type Condition =
  | { readonly test: 'all' | 'any'; readonly of: readonly Condition[] }
  | { readonly test: 'not'; readonly of: Condition }
  | FieldTest;

/** Nesting deeper than this is refused. */
export const MAX_DEPTH = 20;
/** More tests than this in one condition are refused. */
export const MAX_TESTS = 1000;

/** Every field that a condition reads. */
export function fieldsOf(condition: Condition, into = new Set<string>()): Set<string> {
  switch (condition.test) {
    case 'all':
    case 'any':
      for (const part of condition.of) fieldsOf(part, into);
      return into;
    case 'not':
      return fieldsOf(condition.of, into);
    default:
      return into.add(condition.field);
  }
}
