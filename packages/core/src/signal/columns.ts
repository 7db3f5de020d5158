import type { Bits } from '../column/bits';
import type { AgedEvents, EventsByAge } from '../column/events';
import { addActivities } from './activity-column';
import type { ActivitySignal, SilenceSignal } from './signal';
import { addSilence } from './silence-signal';

/** Columns of what many records did, at one instant. */
export interface SignalColumns {
  /** The activities of a kind, or of a kind with certain properties; null: there are none. */
  eventsOf(happening: string): AgedEvents | null;
  /** The same from the youngest to the oldest. */
  eventsByAge(happening: string, events: AgedEvents): EventsByAge;
  /** For how many whole hours each record has been silent. */
  silentHours(): Uint32Array;
}

/**
 * Adds, or takes away, what a signal for activities or silence gives each record: the same, summed, as `signalOutcome` of one
 * record after the other.
 *
 * @param sums in millionths of a point, changed in place
 * @param touched gets a bit for each record whose sum may have changed
 */
export function addHappened(
  signal: ActivitySignal | SilenceSignal,
  source: SignalColumns,
  sign: 1 | -1,
  sums: Float64Array,
  touched: Bits,
): void {
  if (signal.kind === 'activity') addActivities(signal, source, sign, sums, touched);
  else addSilence(signal, source, sign, sums, touched);
}
