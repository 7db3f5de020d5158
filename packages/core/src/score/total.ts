import { MICRO, type Micro, roundPoints } from '../signal/points';
import type { AxisBounds } from './score-set';

/** What an axis adds up to: the parts before the bounds, and the score after rounding and bounds. */
export interface Total {
  /**
   * Sum of the parts above zero, as shown: rounded half away from zero to the axis's decimals, or to as many more as it takes
   * for positive and negative together to be what they add up to.
   */
  readonly positive: number;
  /** Sum of the parts below zero, as shown, with the same decimals; zero or less. */
  readonly negative: number;
  /** Positive and negative together, rounded to the axis's decimals, before the bounds. */
  readonly sum: number;
  /** The sum held to the axis bounds. */
  readonly score: number;
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
  const decimals = addingUp(positive, negative, bounds.decimals);
  return {
    positive: roundPoints(positive, decimals),
    negative: roundPoints(negative, decimals),
    sum,
    score: Math.min(bounds.most, Math.max(bounds.least, sum)),
  };
}

/** With so many decimals, or more, the rounded parts add up to the rounded sum: 1.4 − 0.6 is not shown as 1 − 1 = 1. */
function addingUp(positive: Micro, negative: Micro, least: number): number {
  let decimals = least;
  const unit = (): number => MICRO / 10 ** decimals;
  const shown = (micro: Micro): Micro => Math.round(roundPoints(micro, decimals) * MICRO);
  const sum = positive + negative;
  const addUp = (): boolean =>
    shown(positive) + shown(negative) === shown(sum) && roundPoints(shown(sum), least) === roundPoints(sum, least);
  while (unit() > 1 && !addUp()) decimals += 1;
  return decimals;
}
