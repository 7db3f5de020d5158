import type { Instant } from './keys';

/** An hour in milliseconds. */
export const HOUR = 3_600_000;
export const HOURS_A_DAY = 24;

/** The latest instant from which at least so many whole hours have passed by `asOf`. */
export function hoursBefore(asOf: Instant, hours: number): Instant {
  return hours <= 0 ? Infinity : asOf - hours * HOUR;
}

/** The age of something in whole hours at an instant not before it. */
export function ageInHours(at: Instant, asOf: Instant): number {
  return Math.floor((asOf - at) / HOUR);
}
