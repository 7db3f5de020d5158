import { type ActivityKinds, lastByThem } from '../activity/activity-kind';
import type { Bits } from '../column/bits';
import { ageInHours, HOUR, HOURS_A_DAY } from '../record/hours';
import type { Instant } from '../record/keys';
import type { Activity } from '../record/record';
import { type Motion, type Seen, STILL } from './motion';
import type { SignalColumns } from './columns';
import { toMicro } from './points';
import type { SilenceSignal } from './signal';

/** The last instant up to `asOf` at which they did something; else their arrival. */
export function silentSince(
  kinds: ActivityKinds,
  activities: readonly Activity[],
  arrived: Instant,
  asOf: Instant,
): Instant {
  return lastByThem(kinds, activities, asOf) ?? Math.min(arrived, asOf);
}

/** The points lost by silence: once for every so many whole days in which they did nothing, at most so many times. */
export function countSilence(signal: SilenceSignal, since: Instant, asOf: Instant): Seen {
  const hours = ageInHours(since, asOf);
  const steps = Math.floor(hours / (signal.every * HOURS_A_DAY));
  const counted = signal.most === null ? steps : Math.min(steps, signal.most);
  return {
    count: Math.floor(hours / HOURS_A_DAY),
    counted,
    newest: since,
    micro: counted * toMicro(signal.points),
  };
}

/** How the points lost by silence go on from an instant: until the next step they stay. */
export function silenceMotion(signal: SilenceSignal, since: Instant, now: Instant): Motion {
  const { counted, micro } = countSilence(signal, since, now);
  const ends = signal.most !== null && counted >= signal.most;
  return {
    ...STILL,
    micro,
    step: ends ? null : { at: since + (counted + 1) * signal.every * HOURS_A_DAY * HOUR, by: toMicro(signal.points) },
  };
}

/** Adds, or takes away, what silence gives each record. */
export function addSilence(
  signal: SilenceSignal,
  source: SignalColumns,
  sign: 1 | -1,
  sums: Float64Array,
  touched: Bits,
): void {
  const silent = source.silentHours();
  const each = sign * toMicro(signal.points);
  const step = signal.every * HOURS_A_DAY;
  const most = signal.most ?? Infinity;
  for (let i = 0; i < silent.length; i += 1) {
    const steps = Math.floor((silent[i] as number) / step);
    if (steps === 0) continue;
    sums[i] = (sums[i] as number) + (steps < most ? steps : most) * each;
    touched[i >>> 5] = (touched[i >>> 5] as number) | (1 << (i & 31));
  }
}
