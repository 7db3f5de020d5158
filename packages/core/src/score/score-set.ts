import type { Grid } from '../grade/grid';
import type { Condition } from '../condition/condition';

export const AXES = ['fit', 'engagement'] as const;
/** Fit: what they are. Engagement: what they do. */
export type Axis = (typeof AXES)[number];

interface SignalBase {
  readonly key: string;
  readonly name: string;
  readonly axis: Axis;
  readonly on: boolean;
  /** Positive or negative, with at most two decimals. */
  readonly points: number;
}

/** Points for what a record is: given once, when the condition holds. */
export interface AttributeSignal extends SignalBase {
  readonly kind: 'attribute';
  readonly when: Condition;
}

/** Points for what people do: given for each activity of a kind, the newest `most` of them when that is set. */
export interface ActivitySignal extends SignalBase {
  readonly kind: 'activity';
  readonly activity: string;
  readonly most: number | null;
}

/** One line of a score. */
export type Signal = AttributeSignal | ActivitySignal;

/** The bounds to which an axis is held, both included, and the decimals it shows. */
export interface AxisBounds {
  readonly least: number;
  readonly most: number;
  readonly decimals: number;
}

/** The signals of one kind of record, on two axes, and the grid that makes a grade of them. */
export interface ScoreSet {
  readonly key: string;
  readonly name: string;
  readonly fit: AxisBounds;
  readonly engagement: AxisBounds;
  readonly signals: readonly Signal[];
  readonly grid: Grid;
}
