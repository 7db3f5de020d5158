import type { Instant } from '../record/keys';
import type { Micro } from './points';

/** A signal for activities or silence at one instant. */
export interface Seen {
  /** How many there were up to the moment asked about; for silence, how many whole days it lasts. */
  readonly count: number;
  /** How many of them counted, or how many steps of silence. */
  readonly counted: number;
  /** The newest of them, or the moment since which it is silent. */
  readonly newest: Instant | null;
  readonly micro: Micro;
}

/** The points of a signal at one instant, and how they can change afterwards by the passing of time alone. */
export interface Motion {
  readonly micro: Micro;
  /** The rest of faded points above and below zero: the most by which the signal can still sink, or rise. */
  readonly above: Micro;
  readonly below: Micro;
  /** By at most so much it sinks, or rises, each time that all ages become an hour more. */
  readonly sinks: Micro;
  readonly rises: Micro;
  /** The next instant at which some age becomes an hour more; null: nothing fades. */
  readonly tick: Instant | null;
  /** Instants at which the points may change otherwise than by fading; some may be past. */
  readonly turns: readonly Instant[];
  /** The next instant at which so many points are added; null: none. */
  readonly step: { readonly at: Instant; readonly by: Micro } | null;
}

/** Nothing given, and nothing that moves. */
export const STILL: Motion = { micro: 0, above: 0, below: 0, sinks: 0, rises: 0, tick: null, turns: [], step: null };
