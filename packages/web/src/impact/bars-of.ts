import type { Distribution } from '@relvik/contracts';
import type { Axis, Spread } from '@relvik/core';

/** How many records have a score from here to the next bar. */
export interface ScoreBar {
  readonly score: number;
  readonly count: number;
}

/** A spread as charts take it. */
export function barsOf({ from, width, counts }: Spread): ScoreBar[] {
  return counts.map((count, i) => ({ score: from + i * width, count }));
}

/** What charts of both axes show: the charter in force, and over it the draft where there is one. */
export type AxisBars = Readonly<
  Record<Axis, { readonly inForce: readonly ScoreBar[]; readonly draft: readonly ScoreBar[] | null }>
>;

/** Open leads as they are stored, as long as there is no impact. */
export function storedBars(stored: Distribution | null): AxisBars {
  return {
    fit: { inForce: stored?.fit ?? [], draft: null },
    engagement: { inForce: stored?.engagement ?? [], draft: null },
  };
}
