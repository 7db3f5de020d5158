import { type ClockSpan, type Day, type DaysOff, isTimeZone } from '@relvik/core';
import ICAL from 'ical.js';
import { DateTime } from 'luxon';

/** Days off found in an iCalendar file. */
export type IcalReading =
  | {
      readonly ok: true;
      /** In order of their days. */
      readonly daysOff: readonly DaysOff[];
      /** Events that are no days off, with the reasons. */
      readonly passedOver: readonly { readonly name: string; readonly why: string }[];
    }
  | { readonly ok: false; readonly problem: string };

/** Occurrences of one event that are looked at, so that a rule without an end ends. */
const MOST = 5000;

/** A stretch of the reader's local clock. */
interface Stretch {
  readonly from: DateTime;
  readonly to: DateTime;
}

/**
 * Days off from an iCalendar file (RFC 5545): events that take up time, each occurrence of those that recur. Whole-day events are
 * whole days; the others are parts of days by the clock of whoever is off. Cancelled events and those that leave one free are
 * passed over.
 *
 * @param timeZone of whoever is off: other zones, and UTC, are converted
 * @param window the days that are looked at, both included
 */
export function daysOffFromIcal(
  text: string,
  timeZone: string,
  window: { readonly from: Day; readonly to: Day },
): IcalReading {
  let calendar: ICAL.Component;
  try {
    calendar = new ICAL.Component(ICAL.parse(text) as never);
  } catch {
    return { ok: false, problem: 'This is no iCalendar file that can be read.' };
  }
  if (calendar.name !== 'vcalendar') return { ok: false, problem: 'This file has no calendar in it.' };
  const passedOver: { name: string; why: string }[] = [];
  const found: DaysOff[] = [];
  for (const event of eventsOf(calendar)) {
    const why = reasonToPass(event);
    if (why !== null) {
      passedOver.push({ name: event.summary, why });
      continue;
    }
    const own = occurrencesOf(event, timeZone, window).flatMap(daysOf);
    if (own.length === 0) passedOver.push({ name: event.summary, why: 'outside the time that is read' });
    found.push(...own);
  }
  const unique = new Map(found.map((one) => [JSON.stringify(one), one]));
  return { ok: true, daysOff: [...unique.values()].sort((a, b) => (orderOf(a) < orderOf(b) ? -1 : 1)), passedOver };
}

const orderOf = ({ from, to, hours }: DaysOff): string => `${from} ${hours?.from ?? ''} ${to} ${hours?.to ?? ''}`;

/** Each event with its exceptions. */
function eventsOf(calendar: ICAL.Component): ICAL.Event[] {
  const all = calendar.getAllSubcomponents('vevent').map((event) => new ICAL.Event(event));
  const main = all.filter((event) => !event.isRecurrenceException());
  for (const exception of all)
    if (exception.isRecurrenceException())
      for (const event of main) if (event.uid === exception.uid) event.relateException(exception);
  return main;
}

function reasonToPass(event: ICAL.Event): string | null {
  const said = (name: string): string => String(event.component.getFirstPropertyValue(name) ?? '').toUpperCase();
  if (event.component.getFirstProperty('dtstart') === null) return 'says no day';
  if (said('status') === 'CANCELLED') return 'is cancelled';
  return said('transp') === 'TRANSPARENT' ? 'leaves free' : null;
}

function occurrencesOf(
  event: ICAL.Event,
  timeZone: string,
  { from, to }: { readonly from: Day; readonly to: Day },
): Stretch[] {
  const first = DateTime.fromISO(from, { zone: timeZone });
  const end = DateTime.fromISO(to, { zone: timeZone }).plus({ days: 1 });
  const stretchOf = (start: ICAL.Time, until: ICAL.Time): Stretch => ({
    from: localTime(start, event, timeZone),
    to: localTime(until, event, timeZone),
  });
  const isSeen = (stretch: Stretch): boolean => stretch.to > first && stretch.from < end;
  if (!event.isRecurring()) return [stretchOf(event.startDate, event.endDate)].filter(isSeen);
  const found: Stretch[] = [];
  const iterator = event.iterator();
  for (let n = 0; n < MOST; n += 1) {
    // At its end it gives no time any more, which its types leave out.
    const next = iterator.next() as ICAL.Time | null | undefined;
    if (!next) break;
    const { startDate, endDate, item } = event.getOccurrenceDetails(next);
    const stretch = stretchOf(startDate, endDate);
    if (stretch.from >= end) break;
    if (isSeen(stretch) && reasonToPass(item) === null) found.push(stretch);
  }
  return found;
}

/** An instant of the file on the local clock; a floating one, and a whole day, are of that clock already. */
function localTime(time: ICAL.Time, event: ICAL.Event, timeZone: string): DateTime {
  const { year, month, day, hour, minute } = time;
  const clock = { year, month, day, hour: time.isDate ? 0 : hour, minute: time.isDate ? 0 : minute };
  const named = event.component.getFirstProperty('dtstart')?.getFirstParameter('tzid') ?? '';
  const isFloating = time.zone.tzid === 'floating';
  if (!time.isDate && !isFloating) return DateTime.fromSeconds(time.toUnixTime(), { zone: timeZone });
  // A zone that the file names without describing it.
  const zone = !time.isDate && isTimeZone(named) ? named : timeZone;
  return DateTime.fromObject(clock, { zone }).setZone(timeZone);
}

/** A stretch as whole days and parts of days. */
function daysOf({ from, to }: Stretch): DaysOff[] {
  if (to <= from) return [];
  const [first, last] = [from.startOf('day'), to.startOf('day')];
  const part = (day: DateTime, start: string, end: string): DaysOff[] =>
    start === end
      ? []
      : [{ from: dayText(day), to: dayText(day), hours: { from: start, to: end } satisfies ClockSpan }];
  if (first.hasSame(last, 'day')) return part(first, clockOf(from), clockOf(to));
  const startsWhole = +first === +from;
  const whole = startsWhole ? first : first.plus({ days: 1 });
  return [
    ...(startsWhole ? [] : part(first, clockOf(from), '24:00')),
    ...(whole < last ? [{ from: dayText(whole), to: dayText(last.minus({ days: 1 })), hours: null }] : []),
    ...part(last, '00:00', clockOf(to)),
  ];
}

const dayText = (day: DateTime): Day => day.toFormat('yyyy-MM-dd');
const clockOf = (time: DateTime): string => time.toFormat('HH:mm');
