/** The least number of won deals from which the usual cycle is told. */
export const ENOUGH_WON = 20;

/** The usual sales cycle, and the number of won deals that it is the median of. */
export interface Cycle {
  /** Whole days, rounded; null: too few deals were won. */
  readonly days: number | null;
  readonly won: number;
}

/**
 * The usual sales cycle: the median time that won deals took, from being made to being won. From {@link ENOUGH_WON} deals on.
 *
 * @param taken the time that each took, in days
 *
 * @example cycleOf([…19 deals]) // { days: null, won: 19 }
 */
export function cycleOf(taken: readonly number[]): Cycle {
  const won = taken.length;
  if (won < ENOUGH_WON) return { days: null, won };
  const sorted = Float64Array.from(taken).sort();
  const middle = won >> 1;
  const upper = sorted[middle] ?? 0;
  const median = won % 2 === 1 ? upper : ((sorted[middle - 1] ?? 0) + upper) / 2;
  return { days: Math.round(median), won };
}

/** Days until a deal that a rule makes is expected to close. */
export function daysToClose(
  { days, measured }: { readonly days: number; readonly measured: boolean },
  cycle: Pick<Cycle, 'days'>,
): number {
  return (measured ? cycle.days : null) ?? days;
}
