import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { nextRun, type Schedule } from './schedule';
import { clockText } from './work-hours';

const at = (text: string): number => Temporal.Instant.from(text).epochMilliseconds;
const next = (schedule: Schedule, after: string, zone = 'Europe/Oslo'): string =>
  Temporal.Instant.fromEpochMilliseconds(nextRun(schedule, at(after), zone)).toString();

test('every so many minutes, each day, and on a day of the week; a run is not its own next one', () => {
  expect(next({ kind: 'every', minutes: 30 }, '2026-11-30T12:00:00Z')).toBe('2026-11-30T12:30:00Z');
  expect(next({ kind: 'every', minutes: 480 }, '2026-11-30T07:59:59Z')).toBe('2026-11-30T08:00:00Z');
  const nightly: Schedule = { kind: 'daily', at: '02:00' };
  expect(next(nightly, '2026-11-30T00:59:59Z')).toBe('2026-11-30T01:00:00Z');
  expect(next(nightly, '2026-11-30T01:00:00Z')).toBe('2026-12-01T01:00:00Z');
  // 30 November 2026 is a Monday.
  const mondays: Schedule = { kind: 'weekly', day: 1, at: '06:30' };
  expect(next(mondays, '2026-11-30T05:29:00Z')).toBe('2026-11-30T05:30:00Z');
  expect(next(mondays, '2026-11-30T05:30:00Z')).toBe('2026-12-07T05:30:00Z');
});

test('a time that the clock leaves out is the moment it is put forward; one that it shows twice is the first of the two', () => {
  const nightly: Schedule = { kind: 'daily', at: '02:30' };
  expect(next(nightly, '2026-03-28T12:00:00Z')).toBe('2026-03-29T01:00:00Z');
  expect(next(nightly, '2026-10-24T12:00:00Z')).toBe('2026-10-25T00:30:00Z');
  expect(next(nightly, '2026-10-25T00:30:00Z')).toBe('2026-10-26T01:30:00Z');
});

/** That time of a day, as the library finds it; where the clock leaves it out, the change of the clock. */
function onDay(day: Temporal.PlainDate, minutes: number, zone: string): number {
  const time = Temporal.PlainTime.from({ hour: Math.floor(minutes / 60), minute: minutes % 60 });
  const earliest = day.toPlainDateTime(time).toZonedDateTime(zone, { disambiguation: 'earlier' });
  if (earliest.toPlainTime().equals(time)) return earliest.epochMilliseconds;
  return earliest.getTimeZoneTransition('next')!.epochMilliseconds;
}

test('over a year and the zones of the world runs are where temporal-polyfill finds them', () => {
  const zones = ['Europe/Oslo', 'America/New_York', 'Asia/Kolkata', 'Australia/Lord_Howe', 'Pacific/Chatham', 'UTC'];
  const start = at('2026-01-01T00:00:00Z');
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.integer({ min: 0, max: 365 * 24 * 60 }),
      fc.integer({ min: 0, max: 1439 }),
      fc.constantFrom(null, 1, 2, 3, 4, 5, 6, 7),
      (zone, minute, wanted, weekday) => {
        const after = start + minute * 60_000;
        const today = Temporal.Instant.fromEpochMilliseconds(after).toZonedDateTimeISO(zone).toPlainDate();
        const days = Array.from({ length: 9 }, (_, days) => today.add({ days }));
        const expected = days
          .filter(({ dayOfWeek }) => weekday === null || dayOfWeek === weekday)
          .map((day) => onDay(day, wanted, zone))
          .find((one) => one > after);
        const time = clockText(wanted);
        const schedule: Schedule =
          weekday === null ? { kind: 'daily', at: time } : { kind: 'weekly', day: weekday, at: time };
        expect(nextRun(schedule, after, zone)).toBe(expected);
      },
    ),
    { numRuns: 400 },
  );
});
