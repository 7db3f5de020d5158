import type { AxisBounds } from './score-set';

/** Millionths of a point. Sums are of whole numbers, so their order never matters. */
export type Micro = number;

export const MICRO = 1_000_000;

/** Points as whole millionths. */
export function toMicro(points: number): Micro {
  return Math.round(points * MICRO);
}

/** What an axis adds up to: the parts before the bounds, and the score after rounding and bounds. */
export interface Total {
  /** Sum of the parts above zero, as shown: rounded half away from zero to the axis's decimals. */
  readonly positive: number;
  /** Sum of the parts below zero, as shown; zero or less. */
  readonly negative: number;
  /** Positive and negative together, rounded, before the bounds. */
  readonly sum: number;
  /** The sum held to the axis bounds. */
  readonly score: number;
}

/** Millionths rounded half away from zero to so many decimals, in points. */
export function roundPoints(micro: Micro, decimals: number): number {
  const unit = MICRO / 10 ** decimals;
  const size = Math.abs(micro);
  const whole = Math.floor(size / unit);
  // Remainders of whole numbers are exact, the quotient's last bit is not.
  const rest = size - whole * unit;
  const rounded = (2 * rest >= unit ? whole + 1 : whole) / 10 ** decimals;
  return micro < 0 && rounded !== 0 ? -rounded : rounded;
}

/**
 * Adds up the parts of one axis: sum → round to the axis's decimals → hold to its bounds.
 *
 * A part is what one signal gave, or what a group of them was held to.
 *
 * @example total([134_000_000, -10_000_000], { least: 0, most: 100, decimals: 0 })
 * // { positive: 134, negative: -10, sum: 124, score: 100 }
 */
export function total(micros: readonly Micro[], bounds: AxisBounds): Total {
  let positive = 0;
  let negative = 0;
  for (const micro of micros) {
    if (micro > 0) positive += micro;
    else negative += micro;
  }
  const sum = roundPoints(positive + negative, bounds.decimals);
  return {
    positive: roundPoints(positive, bounds.decimals),
    negative: roundPoints(negative, bounds.decimals),
    sum,
    score: Math.min(bounds.most, Math.max(bounds.least, sum)),
  };
}
