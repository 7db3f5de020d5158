import { hasProperties } from '../activity/property-test';
import { ageInHours, HOUR, HOURS_A_DAY } from '../record/hours';
import type { Instant } from '../record/keys';
import type { Activity } from '../record/record';
import { type Fade, faded } from './fade';
import type { Motion, Seen } from './motion';
import { heldTo, type Micro, toMicro } from './points';
import type { ActivitySignal } from './signal';

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

/**
 * How the points of an activity signal go on from an instant.
 *
 * @param times when its activities happened, newest first
 */
export function activityMotion(signal: ActivitySignal, times: readonly Instant[], now: Instant): Motion {
  const each = toMicro(signal.points);
  let micro = 0;
  let [above, below, sinks, rises] = [0, 0, 0, 0];
  let tick: Instant | null = null;
  for (const at of countedOf(signal, times, now).counted) {
    const age = ageInHours(at, now);
    const left = faded(each, signal.fade, age);
    micro += left;
    if (signal.fade === null || left === 0) continue;
    tick = Math.min(tick ?? Infinity, at + (age + 1) * HOUR);
    const step = mostLost(signal.fade, each, left);
    if (left > 0) [above, sinks] = [above + left, sinks + step];
    else [below, rises] = [below - left, rises + step];
  }
  const windowEnds = signal.window === null ? [] : times.map((at) => at + (signal.window ?? 0) * HOURS_A_DAY * HOUR);
  return { micro: heldTo(signal.cap, micro), above, below, sinks, rises, tick, turns: windowEnds, step: null };
}

/** The most that an activity loses in an hour from now on, a millionth for rounding included. */
function mostLost(fade: Fade, each: Micro, left: Micro): Micro {
  const span = fade.days * HOURS_A_DAY;
  return (fade.kind === 'half-life' ? ((Math.abs(left) + 1) * Math.LN2) / span : Math.abs(each) / span) + 1;
}
