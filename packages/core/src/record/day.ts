import { DateTime } from 'luxon';
import { keepingAnswers } from './kept-answers';
import type { Day, Instant } from './keys';

/**
 * The calendar day on which an instant falls in a time zone.
 *
 * @param instant milliseconds since 1970 UTC
 * @param zone an IANA name, such as `Europe/Oslo`
 * @returns `YYYY-MM-DD`
 * @throws RangeError when the zone is unknown
 */
export function dayOf(instant: Instant, zone: string): Day {
  return keptDay(instant, zone);
}

const keptDay = keepingAnswers((instant: Instant, zone: string): Day => {
  const day = DateTime.fromMillis(instant, { zone }).toISODate();
  if (day === null) throw new RangeError(`No such time zone: ${zone}`);
  return day;
});

/** Whether text is a day of the calendar written `YYYY-MM-DD` (2026-02-30 is not). */
export function isDay(text: string): text is Day {
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && DateTime.fromISO(text, { zone: 'utc' }).isValid;
}

const DAY = 86_400_000;

/** A calendar day as the number of days since 1970-01-01, whatever the time zone. */
export function dayNumber(day: Day): number {
  return Date.parse(`${day}T00:00:00Z`) / DAY;
}

/**
 * The instant at which a calendar day begins in a time zone: midnight, or the first instant after a gap there.
 *
 * @param day days since 1970-01-01
 */
export function startOfDay(day: number, zone: string): Instant {
  const { year, month, day: ofMonth } = DateTime.fromMillis(day * DAY, { zone: 'utc' });
  return DateTime.fromObject({ year, month, day: ofMonth }, { zone }).startOf('day').toMillis();
}

/** The calendar day so many days after 1970-01-01. */
export function dayFrom(number: number): Day {
  return new Date(number * DAY).toISOString().slice(0, 10);
}

/** An instant as ISO 8601 in a time zone, to the second: `2026-11-24T09:30:00+01:00`. */
export function instantText(at: Instant, zone: string): string {
  return DateTime.fromMillis(at, { zone }).startOf('second').toISO({ suppressMilliseconds: true }) ?? '';
}

/** An instant as people read it in a time zone: `Mon 30 Nov 08:00`, with `UTC` behind it where that is the zone. */
export function momentText(at: Instant, zone: string): string {
  const text = DateTime.fromMillis(at, { zone, locale: 'en-GB' }).toFormat('ccc d LLL HH:mm');
  return zone === 'UTC' ? `${text} UTC` : text;
}

/** Whether an IANA time zone of that name is known. */
export function isTimeZone(name: string): boolean {
  return DateTime.fromMillis(0, { zone: name }).isValid;
}

/**
 * An instant written as ISO 8601 with its offset, such as `2026-11-24T08:30:00Z`.
 *
 * @returns milliseconds since 1970 UTC, or `null` when the text is no instant (a time without an offset is none)
 */
export function parseInstant(text: string): Instant | null {
  if (!/^\d{4}-\d{2}-\d{2}T.*(Z|[+-]\d{2}:?\d{2})$/i.test(text)) return null;
  const at = DateTime.fromISO(text, { setZone: true });
  return at.isValid ? at.toMillis() : null;
}
