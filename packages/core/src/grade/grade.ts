import { bandOf } from './band';
import type { Grid } from './grid';
import type { VerdictKey } from './verdict';

/** A cell of the grid. Derived from the scores, never edited. */
export interface Grade {
  /** The places of its bands, 0 for the lowest. */
  readonly fit: number;
  readonly engagement: number;
  readonly bands: { readonly fit: string; readonly engagement: string };
  /** `B active`: the fit band's name and the engagement band's. */
  readonly name: string;
  readonly verdict: VerdictKey;
}

/** The cell in which two scores meet. */
export function gradeOf(grid: Grid, fitScore: number, engagementScore: number): Grade {
  const fit = bandOf(fitScore, grid.fit.cuts);
  const engagement = bandOf(engagementScore, grid.engagement.cuts);
  const [fitBand, engagementBand] = [grid.fit.bands[fit], grid.engagement.bands[engagement]];
  const verdict = grid.cells[fit]?.[engagement];
  if (verdict === undefined || fitBand === undefined || engagementBand === undefined)
    throw new RangeError(`The grid has no cell ${fit}, ${engagement}`);
  return {
    fit,
    engagement,
    bands: { fit: fitBand.key, engagement: engagementBand.key },
    name: `${fitBand.name} ${engagementBand.name}`,
    verdict,
  };
}

/** A grade as its bands' keys, with their places and names in a grid; null: the grid has not both of them. */
export function gradeOfKeys(
  { fit, engagement }: Grid,
  keys: Grade['bands'],
): Pick<Grade, 'fit' | 'engagement' | 'name'> | null {
  const f = fit.bands.findIndex(({ key }) => key === keys.fit);
  const e = engagement.bands.findIndex(({ key }) => key === keys.engagement);
  const [fitBand, engagementBand] = [fit.bands[f], engagement.bands[e]];
  if (fitBand === undefined || engagementBand === undefined) return null;
  return { fit: f, engagement: e, name: `${fitBand.name} ${engagementBand.name}` };
}

/** A cell as the keys of its bands, whichever set it is of: `b/active`. Keys have no stroke. */
export function cellKey({ fit, engagement }: Grade['bands']): string {
  return `${fit}/${engagement}`;
}
