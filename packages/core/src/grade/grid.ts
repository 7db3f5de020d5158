import type { Bands } from './band';
import type { VerdictKey } from './verdict';

/** The bands of fit × the bands of engagement, and what each cell asks for. */
export interface Grid {
  readonly fit: Bands;
  readonly engagement: Bands;
  /** `cells[fit band][engagement band]`, lowest first. */
  readonly cells: readonly (readonly VerdictKey[])[];
}
