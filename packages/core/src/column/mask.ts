import { type Bits, countBits } from './bits';

/** What a condition says of every record: where it holds, and where it can't be judged; elsewhere it does not hold. */
export interface Mask {
  readonly yes: Bits;
  /** Never set together with `yes`. Null: every record can be judged. */
  readonly unjudged: Bits | null;
}

/** How many records a mask holds for, and how many it can't judge. */
export function countMask(mask: Mask): { readonly yes: number; readonly unjudged: number } {
  return { yes: countBits(mask.yes), unjudged: mask.unjudged === null ? 0 : countBits(mask.unjudged) };
}
