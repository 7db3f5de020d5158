import type { Condition } from '../condition/condition';
import type { Grid } from '../grade/grid';
import type { RecordKind } from '../record/kind';
import type { Signal, SignalGroup } from '../signal/signal';

/** The bounds to which an axis is held, both included, and the decimals it shows. */
export interface AxisBounds {
  readonly least: number;
  readonly most: number;
  readonly decimals: number;
}

/** So many sets a charter may have: the cells of all grids have to be told apart by a byte. */
export const MOST_SETS = 10;

/** The signals of some records, on two axes, and the grid that makes a grade of them. */
export interface ScoreSet {
  readonly key: string;
  readonly name: string;
  readonly of: RecordKind;
  readonly on: boolean;
  /** Its entry condition: whom it admits. */
  readonly when: Condition;
  readonly fit: AxisBounds;
  readonly engagement: AxisBounds;
  readonly groups: readonly SignalGroup[];
  readonly signals: readonly Signal[];
  readonly grid: Grid;
}
