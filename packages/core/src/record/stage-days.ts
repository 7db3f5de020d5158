import { DateTime } from 'luxon';
import { dayNumber, dayOf } from './day';
import { keepingAnswers } from './kept-answers';
import type { Instant } from './keys';

/** The same hour of the clock so many days later; in a gap of the clock, the first instant after it. */
const daysLater = keepingAnswers((since: Instant, days: number, zone: string): Instant =>
  DateTime.fromMillis(since, { zone }).plus({ days }).toMillis(),
);

/**
 * Whole days by the clock of a time zone from one instant to another: the first is over at the same hour of the next day,
 * be it 23, 24 or 25 hours later. Before `since` it is 0.
 */
export function wholeDays(since: Instant, asOf: Instant, zone: string): number {
  let days = Math.max(0, dayNumber(dayOf(asOf, zone)) - dayNumber(dayOf(since, zone)));
  // Once at most, but where a zone left out a day of the calendar.
  while (days > 0 && daysLater(since, days, zone) > asOf) days -= 1;
  return days;
}

/** When so many whole days are over. */
export function wholeDaysOver(since: Instant, days: number, zone: string): Instant {
  return daysLater(since, days, zone);
}

/**
 * The latest instant from which at least so many whole days have passed by `asOf`: since then and earlier it is `days` or
 * more. For comparing many instants at once.
 */
export function daysBefore(asOf: Instant, days: number, zone: string): Instant {
  if (days <= 0) return Infinity;
  let [low, high] = [asOf - (days + 2) * 86_400_000, asOf];
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (wholeDays(middle, asOf, zone) >= days) low = middle;
    else high = middle;
  }
  return low;
}
