import type { PropertyTest } from '../activity/property-test';
import type { Condition } from '../condition/condition';
import type { ReadyCondition } from '../condition/ready';
import type { Fade } from './fade';

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
  /** The group whose cap holds it together with others, or null. */
  readonly group: string | null;
}

/** Points for what a record is: given once, when the condition holds. */
export interface AttributeSignal extends SignalBase {
  readonly kind: 'attribute';
  readonly when: Condition;
}

/** Points for what people do: given for each activity of a kind. */
export interface ActivitySignal extends SignalBase {
  readonly kind: 'activity';
  readonly activity: string;
  /** Tests on its properties, all of which must hold; none: any activity of the kind counts. */
  readonly having: readonly PropertyTest[];
  /** `each` gives points, or only the `first` there ever was. */
  readonly times: 'each' | 'first';
  /** Only what happened in the last so many days counts; null: all. */
  readonly window: number | null;
  /** Cap by number: the newest so many count; null: all. */
  readonly most: number | null;
  readonly fade: Fade | null;
  /** Cap by points, above zero: what they come to is held to it on both sides of zero; null: not held. */
  readonly cap: number | null;
}

/** Points, below zero as a rule, for each stretch of days in which they did nothing. */
export interface SilenceSignal extends SignalBase {
  readonly kind: 'silence';
  /** Days of silence for one step. */
  readonly every: number;
  /** At most so many steps; null: any number. */
  readonly most: number | null;
}

/** One line of a score. */
export type Signal = AttributeSignal | ActivitySignal | SilenceSignal;

/** Signals of one axis whose points together are held to a cap, above zero, on both sides of zero. */
export interface SignalGroup {
  readonly key: string;
  readonly name: string;
  readonly axis: Axis;
  readonly cap: number;
}

/** A signal whose condition, if it has one, can be judged. */
export type ReadySignal = (AttributeSignal & { readonly ready: ReadyCondition }) | ActivitySignal | SilenceSignal;
