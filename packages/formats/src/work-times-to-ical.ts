import { type DaysOff, type Instant, offsetPieces, type WorkHours } from '@relvik/core';
import ICAL from 'ical.js';
import { DateTime } from 'luxon';

const YEAR = 366 * 86_400_000;
/** How far changes of the clock are told. */
const [BACK, AHEAD] = [YEAR, 5 * YEAR];
const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

/** Someone's hours and days off. */
export interface WorkTimes {
  /** Part of the ids of events. */
  readonly key: string;
  readonly timeZone: string;
  /** Null: at any hour. */
  readonly weekly: WorkHours['weekly'];
  readonly daysOff: readonly DaysOff[];
}

/**
 * Someone's working hours and days off as one iCalendar file (RFC 5545): hours as weekly events that leave free, days off as events
 * that take up time, with the zone's changes of the clock for the next five years.
 *
 * @param now when the file is made; weekly events begin in its week
 */
export function workTimesToIcal({ key, timeZone, weekly, daysOff }: WorkTimes, now: Instant): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('prodid', '-//Relvik//Work times//EN');
  if (weekly !== null || daysOff.some(({ hours }) => hours !== null)) calendar.addSubcomponent(zoneOf(timeZone, now));
  const stamp = utcTime(now);
  const add = (id: string, summary: string, isFree: boolean): ICAL.Component => {
    const event = new ICAL.Component('vevent');
    event.addPropertyWithValue('uid', `${id}.${key}@relvik.example`);
    event.addPropertyWithValue('dtstamp', stamp);
    event.addPropertyWithValue('summary', summary);
    event.addPropertyWithValue('transp', isFree ? 'TRANSPARENT' : 'OPAQUE');
    calendar.addSubcomponent(event);
    return event;
  };
  const monday = DateTime.fromMillis(now, { zone: timeZone }).startOf('week');
  (weekly ?? []).forEach(({ day, from, to }, i) => {
    const event = add(`hours-${i}`, 'Works', true);
    const date = monday.plus({ days: day - 1 }).toFormat('yyyy-MM-dd');
    addSpan(event, timeZone, date, from, to);
    event.addPropertyWithValue('rrule', ICAL.Recur.fromString(`FREQ=WEEKLY;BYDAY=${DAYS[day - 1] ?? 'MO'}`));
  });
  daysOff.forEach(({ from, to, hours }, i) => {
    const event = add(`off-${i}`, 'Off', false);
    if (hours === null) {
      event.addPropertyWithValue('dtstart', ICAL.Time.fromDateString(from));
      event.addPropertyWithValue('dtend', ICAL.Time.fromDateString(dayAfter(to)));
      return;
    }
    addSpan(event, timeZone, from, hours.from, hours.to);
    const days = DateTime.fromISO(to).diff(DateTime.fromISO(from), 'days').days + 1;
    if (days > 1) event.addPropertyWithValue('rrule', ICAL.Recur.fromString(`FREQ=DAILY;COUNT=${days}`));
  });
  return `${calendar.toString()}\r\n`;
}

const dayAfter = (day: string): string => DateTime.fromISO(day).plus({ days: 1 }).toFormat('yyyy-MM-dd');

/** A part of a day by the local clock; the end of the day is the beginning of the next. */
function addSpan(event: ICAL.Component, timeZone: string, day: string, from: string, to: string): void {
  const end = to === '24:00' ? `${dayAfter(day)}T00:00:00` : `${day}T${to}:00`;
  for (const [name, text] of [
    ['dtstart', `${day}T${from}:00`],
    ['dtend', end],
  ] as const) {
    const property = new ICAL.Property(name);
    property.setParameter('tzid', timeZone);
    property.setValue(ICAL.Time.fromDateTimeString(text));
    event.addProperty(property);
  }
}

/** The zone, with each change of its clock as an observance of its own. */
function zoneOf(timeZone: string, now: Instant): ICAL.Component {
  const zone = new ICAL.Component('vtimezone');
  zone.addPropertyWithValue('tzid', timeZone);
  const pieces = offsetPieces(timeZone, now - BACK, now + AHEAD);
  const usual = Math.min(...pieces.map(({ offset }) => offset));
  pieces.forEach(({ from, offset }, i) => {
    const before = pieces[i - 1]?.offset ?? offset;
    const observance = new ICAL.Component(offset > usual ? 'daylight' : 'standard');
    // Told by the clock as it was before the change.
    observance.addPropertyWithValue('dtstart', localTime(from + before));
    observance.addPropertyWithValue('tzoffsetfrom', offsetOf(before));
    observance.addPropertyWithValue('tzoffsetto', offsetOf(offset));
    zone.addSubcomponent(observance);
  });
  return zone;
}

const offsetOf = (offset: number): ICAL.UtcOffset => ICAL.UtcOffset.fromSeconds(offset / 1000);

function localTime(clock: number): ICAL.Time {
  return ICAL.Time.fromDateTimeString(DateTime.fromMillis(clock, { zone: 'UTC' }).toFormat("yyyy-MM-dd'T'HH:mm:ss"));
}

function utcTime(at: Instant): ICAL.Time {
  return ICAL.Time.fromDateTimeString(DateTime.fromMillis(at, { zone: 'UTC' }).toFormat("yyyy-MM-dd'T'HH:mm:ss'Z'"));
}
