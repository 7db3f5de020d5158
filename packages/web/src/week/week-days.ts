import type { DaysOff, Instant, Stretch } from '@relvik/core';
import { DateTime } from 'luxon';

/** A day of the reader’s calendar, `[from, to)`; of a day on which clocks change 23 or 25 hours. */
export interface CalendarDay extends Stretch {
  readonly label: string;
  /** As it stands in an address: `2026-11-30`. */
  readonly day: string;
}

/** The Monday that begins the week of an instant, by the reader’s clock. */
export function mondayOf(at: Instant): DateTime {
  return DateTime.fromMillis(at).startOf('week');
}

/** Monday of the week in which a day of an address lies; null: it is no day. */
export function mondayIn(text: string): DateTime | null {
  const day = DateTime.fromFormat(text, 'yyyy-MM-dd');
  return day.isValid ? day.startOf('week') : null;
}

/** The seven days of a week by the reader’s clock. */
export function daysOfWeek(monday: DateTime): CalendarDay[] {
  return Array.from({ length: 7 }, (_, i) => {
    const day = monday.plus({ days: i });
    return {
      ...{ from: day.toMillis(), to: day.plus({ days: 1 }).toMillis(), day: day.toFormat('yyyy-MM-dd') },
      label: day.setLocale('en').toFormat('ccc d LLL'),
    };
  });
}

/** A part of a day, drawn: its beginning and length in percent of the day. */
export interface DrawnPart {
  readonly left: number;
  readonly width: number;
}

export function drawnIn(day: Stretch, { from, to }: Stretch): DrawnPart | null {
  const [start, end] = [Math.max(from, day.from), Math.min(to, day.to)];
  if (start >= end) return null;
  const whole = day.to - day.from;
  return { left: (100 * (start - day.from)) / whole, width: (100 * (end - start)) / whole };
}

/** The hours of a day in words: `08:00–12:00, 13:00–16:00`; the end of the day is 24:00. */
export function hoursIn(day: Stretch, stretches: readonly Stretch[]): string {
  const clock = (at: Instant): string => DateTime.fromMillis(at).toFormat('HH:mm');
  const parts = stretches.flatMap(({ from, to }) => {
    const [start, end] = [Math.max(from, day.from), Math.min(to, day.to)];
    if (start >= end) return [];
    if (start === day.from && end === day.to) return ['all day'];
    return [`${clock(start)}–${end === day.to ? '24:00' : clock(end)}`];
  });
  return parts.join(', ');
}

/** Whether someone has a day of the calendar off as a whole. */
export function isDayOff({ day }: CalendarDay, daysOff: readonly DaysOff[]): boolean {
  return daysOff.some(({ from, to, hours }) => hours === null && from <= day && day <= to);
}
