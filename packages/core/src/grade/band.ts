/** A stretch of an axis between two cuts. Its key stays when it is renamed. */
export interface Band {
  readonly key: string;
  readonly name: string;
}

/** The bands of one axis. */
export interface Bands {
  /** Lowest first. */
  readonly bands: readonly Band[];
  /** One fewer than bands, strictly ascending; each cut belongs to the band above it. */
  readonly cuts: readonly number[];
}

/** How many bands each axis has, at least and at most. */
export const BAND_COUNTS = { fit: [2, 6], engagement: [2, 4] } as const;

/**
 * The band in which a score lies: 0 below the first cut, and one more for each cut reached.
 *
 * A cut belongs to the band above it: with cuts 50 and 75, 49 is band 0, 50 and 74 are band 1, 75 is band 2.
 *
 * @param cuts ascending
 * @returns 0 to `cuts.length`
 */
export function bandOf(score: number, cuts: readonly number[]): number {
  let band = 0;
  for (const cut of cuts) if (score >= cut) band += 1;
  return band;
}

/** A band as people read it: `below 50`, `[50, 75)`, `75 and above`. */
export function showBand(band: number, cuts: readonly number[]): string {
  const from = cuts[band - 1];
  const to = cuts[band];
  if (from === undefined) return to === undefined ? 'every score' : `below ${to}`;
  return to === undefined ? `${from} and above` : `[${from}, ${to})`;
}
