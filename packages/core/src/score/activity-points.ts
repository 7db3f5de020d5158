import type { Instant } from '../record/keys';
import { type ActivityKinds, lastByThem } from '../activity/activity-kind';
import type { Activity } from '../record/record';
import { ageInHours, faded, HOUR, HOURS_A_DAY } from './fade';
import { type Micro, toMicro } from './points';
import { hasProperties } from '../activity/property-test';
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

/** When a signal's activities happened, the newest first; whatever comes after the moment asked about included. */
export function happenings(signal: ActivitySignal, activities: readonly Activity[]): Instant[] {
  const times: Instant[] = [];
  for (const activity of activities)
    if (activity.kind === signal.activity && hasProperties(activity, signal.having)) times.push(activity.at);
  return times.sort((a, b) => b - a);
}

/**
 * Which of a signal's activities count, newest first: of those in the window the newest, as many as the cap by number
 * takes; or the first there ever was, if it lies in the window.
 *
 * A window is (asOf − w, asOf]: what happened exactly w days ago is outside. After `asOf` nothing counts.
 *
 * @param times when they happened, newest first
 */
export function countedOf(
  signal: ActivitySignal,
  times: readonly Instant[],
  asOf: Instant,
): { readonly inWindow: number; readonly counted: readonly Instant[] } {
  const after = signal.window === null ? -Infinity : asOf - signal.window * HOURS_A_DAY * HOUR;
  const first = times.findIndex((at) => at <= asOf);
  const beyond = times.findIndex((at) => at <= after);
  const inWindow = first < 0 ? [] : times.slice(first, beyond < 0 ? undefined : beyond);
  switch (signal.times) {
    case 'first':
      // The oldest of all, and of those in the window only if that is it.
      return { inWindow: inWindow.length, counted: beyond < 0 ? inWindow.slice(-1) : [] };
    case 'each':
      return { inWindow: inWindow.length, counted: signal.most === null ? inWindow : inWindow.slice(0, signal.most) };
  }
}

/**
 * The points of an activity signal: those of the activities that count, each faded by its age, summed, and held to the
 * cap by points.
 */
export function countActivities(signal: ActivitySignal, activities: readonly Activity[], asOf: Instant): Seen {
  const { inWindow, counted } = countedOf(signal, happenings(signal, activities), asOf);
  const each = toMicro(signal.points);
  let micro = 0;
  for (const at of counted) micro += faded(each, signal.fade, ageInHours(at, asOf));
  return { count: inWindow, counted: counted.length, newest: counted[0] ?? null, micro: heldTo(signal.cap, micro) };
}

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
