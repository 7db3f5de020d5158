import type { Instant } from '../record/keys';
import { isByThem } from '../record/activity-kind';
import type { Activity } from '../record/record';
import { ageInHours, faded, HOUR, HOURS_A_DAY } from './fade';
import { type Micro, toMicro } from './points';
import type { ActivitySignal, SilenceSignal } from './score-set';

/** What a signal for activities or silence came to. */
export interface Seen {
  /** How many there were up to the moment asked about; for silence, how many whole days it lasts. */
  readonly count: number;
  /** How many of them counted, or how many steps of silence. */
  readonly counted: number;
  /** The newest of them, or the moment since which it is silent. */
  readonly newest: Instant | null;
  readonly micro: Micro;
}

/** A sum held to a cap on both sides of zero; null: not held. */
export function heldTo(cap: number | null, micro: Micro): Micro {
  if (cap === null) return micro;
  const most = toMicro(cap);
  return Math.max(-most, Math.min(most, micro));
}

/**
 * The points of an activity signal: of those in the window the newest, as many as the cap by number takes, each faded by
 * its age, summed, and held to the cap by points.
 *
 * A window is (asOf − w, asOf]: what happened exactly w days ago is outside. After `asOf` nothing counts.
 */
export function countActivities(signal: ActivitySignal, activities: readonly Activity[], asOf: Instant): Seen {
  const after = signal.window === null ? -Infinity : asOf - signal.window * HOURS_A_DAY * HOUR;
  const ages: Instant[] = [];
  for (const { kind, at } of activities) if (kind === signal.activity && at <= asOf && at > after) ages.push(at);
  ages.sort((a, b) => b - a);
  const counted = signal.most === null ? ages.length : Math.min(ages.length, signal.most);
  const each = toMicro(signal.points);
  let micro = 0;
  for (let i = 0; i < counted; i += 1) micro += faded(each, signal.fade, ageInHours(ages[i] ?? asOf, asOf));
  return { count: ages.length, counted, newest: ages[0] ?? null, micro: heldTo(signal.cap, micro) };
}

/** The last instant up to `asOf` at which they did something; else their arrival. */
export function silentSince(activities: readonly Activity[], arrived: Instant, asOf: Instant): Instant {
  let since = -Infinity;
  for (const { kind, at } of activities) if (at <= asOf && at > since && isByThem(kind)) since = at;
  return since === -Infinity ? Math.min(arrived, asOf) : since;
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
