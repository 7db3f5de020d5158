import type { Day } from '../record/keys';

/** A part of the local day, `[from, to)`, written `HH:MM`; the day ends at `24:00`. */
export interface ClockSpan {
  readonly from: string;
  readonly to: string;
}

/** Hours that are worked on a day of each week. */
export interface WeeklySpan extends ClockSpan {
  /** 1 is Monday, 7 Sunday. */
  readonly day: number;
}

/** Days on which someone does not work, both ends included. */
export interface DaysOff {
  readonly from: Day;
  readonly to: Day;
  /** The part of each of these days that is off; null: the whole day. */
  readonly hours: ClockSpan | null;
}

/** When someone works. */
export interface WorkHours {
  /** An IANA name. */
  readonly timeZone: string;
  /** Null: at any hour of any day. */
  readonly weekly: readonly WeeklySpan[] | null;
}

/** The length of a day by the clock, minutes. */
export const DAY_MINUTES = 1440;

/**
 * A time of day as minutes.
 *
 * @param text `HH:MM`; `24:00` is the end of the day
 * @returns null when it is no time of day
 * @example minutesOfDay('09:30') // 570
 */
export function minutesOfDay(text: string): number | null {
  const found = /^(\d{2}):(\d{2})$/.exec(text);
  if (found === null) return null;
  const [hours, minutes] = [Number(found[1]), Number(found[2])];
  const of = hours * 60 + minutes;
  return minutes < 60 && of <= DAY_MINUTES ? of : null;
}

/** Minutes of the day as `HH:MM`. */
export function clockText(minutes: number): string {
  const two = (part: number): string => String(part).padStart(2, '0');
  return `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}
