import type { Spread } from '@relvik/core';

/** How many records have a score from here to the next bar. */
export interface ScoreBar {
  readonly score: number;
  readonly count: number;
}

/** A spread as charts take it. */
export function barsOf({ from, width, counts }: Spread): ScoreBar[] {
  return counts.map((count, i) => ({ score: from + i * width, count }));
}
