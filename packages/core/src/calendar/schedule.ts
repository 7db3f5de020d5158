import { dayNumber, dayOf } from '../record/day';
import type { Instant } from '../record/keys';
import { offsetPieces } from './zone-offsets';
import { minutesOfDay } from './work-hours';

const MINUTE = 60_000;
const DAY = 86_400_000;

/** The lengths of time after which something can happen again, minutes. */
export const EVERY_MINUTES = [5, 10, 15, 30, 60, 120, 240, 480, 720] as const;

/** When something happens by itself. Times of day are those of the local clock, `HH:MM`. */
export type Schedule =
  /** At each multiple of so many minutes, counted from midnight UTC. */
  | { readonly kind: 'every'; readonly minutes: number }
  | { readonly kind: 'daily'; readonly at: string }
  /** `day`: 1 is Monday, 7 Sunday. */
  | { readonly kind: 'weekly'; readonly day: number; readonly at: string };

/**
 * The first run later than an instant.
 *
 * A time of day that the clock leaves out counts as the moment at which it is put forward; one that it shows twice as the first.
 *
 * @param after exclusive
 * @param zone an IANA name
 * @example nextRun({ kind: 'daily', at: '02:00' }, Date.parse('2026-11-30T12:00Z'), 'Europe/Oslo') // 2026-12-01T01:00Z
 */
export function nextRun(schedule: Schedule, after: Instant, zone: string): Instant {
  if (schedule.kind === 'every') {
    const step = schedule.minutes * MINUTE;
    return (Math.floor(after / step) + 1) * step;
  }
  const minutes = minutesOfDay(schedule.at) ?? 0;
  const today = dayNumber(dayOf(after, zone));
  for (let day = today; ; day += 1) {
    if (schedule.kind === 'weekly' && weekday(day) !== schedule.day) continue;
    const at = instantOf(day, minutes, zone);
    if (at > after) return at;
  }
}

/** 1 is Monday: day 0 was a Thursday. */
function weekday(day: number): number {
  return ((day + 3) % 7) + 1;
}

/** The first instant of a local day at which the clock shows that time or a later one. */
function instantOf(day: number, minutes: number, zone: string): Instant {
  const local = day * DAY + minutes * MINUTE;
  const pieces = offsetPieces(zone, local - DAY, local + DAY);
  for (const { from, to, offset } of pieces) {
    const at = Math.max(local - offset, from);
    if (at < to) return at;
  }
  return local;
}
