/** A share with its interval, each from 0 to 1, and the number of trials behind it. */
export interface ShareInterval {
  readonly share: number;
  readonly low: number;
  readonly high: number;
  readonly of: number;
}

/** The 97.5% point of the standard normal distribution: intervals hold 95%. */
const Z = 1.959963984540054;

/**
 * A share with its score interval at 95%, without correction for continuity.
 *
 * E. B. Wilson, Probable inference, the law of succession, and statistical inference, J. Am. Stat. Assoc. 22 (1927), 209–212.
 *
 * @param hits 0 to `of`
 * @param of how many there are
 * @returns null where there are none
 *
 * @example wilson(1, 29) // { share: 0.0345, low: 0.0061, high: 0.1718, of: 29 }
 */
export function wilson(hits: number, of: number): ShareInterval | null {
  if (of === 0) return null;
  const share = hits / of;
  const z2 = Z * Z;
  const middle = share + z2 / (2 * of);
  const half = Z * Math.sqrt((share * (1 - share)) / of + z2 / (4 * of * of));
  const scale = 1 + z2 / of;
  // At the ends the bounds are exact, which rounding would miss by a hair.
  return {
    share,
    low: hits === 0 ? 0 : (middle - half) / scale,
    high: hits === of ? 1 : (middle + half) / scale,
    of,
  };
}
