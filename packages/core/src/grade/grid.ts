import { bandOf } from './band';
import type { VerdictKey } from './verdict';

/** The bands of one axis, lowest first: one name more than cuts. */
export interface Bands {
  readonly names: readonly string[];
  /** Strictly ascending; each cut belongs to the band above it. */
  readonly cuts: readonly number[];
}

/** The bands of fit × the bands of engagement, and what each cell asks for. */
export interface Grid {
  readonly fit: Bands;
  readonly engagement: Bands;
  /** `cells[fit band][engagement band]`, lowest first. */
  readonly cells: readonly (readonly VerdictKey[])[];
}

/** A cell of the grid. Derived from the scores, never edited. */
export interface Grade {
  readonly fit: number;
  readonly engagement: number;
  /** `B active`: the fit band's name and the engagement band's. */
  readonly name: string;
  readonly verdict: VerdictKey;
}

/** The cell in which two scores meet. */
export function gradeOf(grid: Grid, fitScore: number, engagementScore: number): Grade {
  const fit = bandOf(fitScore, grid.fit.cuts);
  const engagement = bandOf(engagementScore, grid.engagement.cuts);
  const verdict = grid.cells[fit]?.[engagement];
  if (verdict === undefined) throw new RangeError(`The grid has no cell ${fit}, ${engagement}`);
  return { fit, engagement, name: `${grid.fit.names[fit]} ${grid.engagement.names[engagement]}`, verdict };
}
