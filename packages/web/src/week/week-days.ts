import type { Instant, Stretch } from '@relvik/core';

/** A day of the reader’s calendar, `[from, to)`; of a day on which clocks change 23 or 25 hours. */
export interface CalendarDay extends Stretch {
  readonly label: string;
}

/** Midnight of a local day, so many days later. */
function midnight(at: Date, days: number): Date {
  return new Date(at.getFullYear(), at.getMonth(), at.getDate() + days);
}

/** The Monday that begins the week of an instant, by the reader’s clock. */
export function mondayOf(at: Instant): Date {
  const day = new Date(at);
  return midnight(day, -((day.getDay() + 6) % 7));
}

/** A local day as it stands in an address: `2026-11-30`. */
export function dayText(day: Date): string {
  return `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, '0')}-${String(day.getDate()).padStart(2, '0')}`;
}

/** Monday of the week in which a day of an address lies; null: it is no day. */
export function mondayIn(text: string): Date | null {
  const found = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (found === null) return null;
  const day = new Date(Number(found[1]), Number(found[2]) - 1, Number(found[3]));
  return dayText(day) === text ? mondayOf(day.getTime()) : null;
}

/** Monday so many weeks later. */
export function weeksLater(monday: Date, weeks: number): Date {
  return midnight(monday, 7 * weeks);
}

/** The seven days of a week by the reader’s clock. */
export function daysOfWeek(monday: Date): CalendarDay[] {
  return Array.from({ length: 7 }, (_, i) => {
    const [from, to] = [midnight(monday, i), midnight(monday, i + 1)];
    const label = from.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
    return { from: from.getTime(), to: to.getTime(), label };
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

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** The hours of a day in words: `08:00–12:00, 13:00–16:00`; the end of the day is 24:00. */
export function hoursIn(day: Stretch, stretches: readonly Stretch[]): string {
  const parts = stretches.flatMap(({ from, to }) => {
    const [start, end] = [Math.max(from, day.from), Math.min(to, day.to)];
    if (start >= end) return [];
    if (start === day.from && end === day.to) return ['all day'];
    return [`${clock.format(start)}–${end === day.to ? '24:00' : clock.format(end)}`];
  });
  return parts.join(', ');
}
