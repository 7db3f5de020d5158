import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { dayFrom } from '../record/day';
import { WorkCalendar } from './work-calendar';
import { clockText, type ClockSpan, type DaysOff, minutesOfDay, type WeeklySpan } from './work-hours';

const at = (text: string): number => Date.parse(text);
const OFFICE: WeeklySpan[] = [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' }));
const office = (timeZone: string, daysOff: DaysOff[] = [], holidays: string[] = []): WorkCalendar =>
  new WorkCalendar({ timeZone, weekly: OFFICE }, daysOff, holidays);
const ALL_WEEK = [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, from: '00:00', to: '24:00' }));

/** Zones with changes of an hour, of half an hour, of none, with odd offsets, and one that left out a day. */
const ZONES = [
  'Europe/Berlin',
  'America/New_York',
  'Australia/Lord_Howe',
  'Asia/Kathmandu',
  'Pacific/Chatham',
  'Africa/Casablanca',
  'America/St_Johns',
  'Pacific/Apia',
  'Asia/Tehran',
];

const span = fc
  .tuple(fc.integer({ min: 0, max: 95 }), fc.integer({ min: 1, max: 40 }))
  .map(([from, long]): ClockSpan => ({
    from: clockText(from * 15),
    to: clockText(Math.min(1440, (from + long) * 15)),
  }));
const weekly = fc.option(
  fc.uniqueArray(fc.tuple(fc.integer({ min: 1, max: 7 }), span), { maxLength: 7, selector: ([day]) => day }),
);

/** A year in which the zones above change their clocks, or 2011, in which one left out a day. */
const within = fc.integer({ min: 0, max: 365 * 1440 - 1 });

test('an instant is working time as the local clock of an independent library says, in every zone, minute by minute', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...ZONES),
      fc.constantFrom('2026-01-01T00:00Z', '2011-06-01T00:00Z'),
      weekly,
      fc.array(fc.tuple(fc.integer({ min: 0, max: 364 }), fc.integer({ min: 0, max: 9 }), fc.option(span)), {
        maxLength: 4,
      }),
      fc.array(fc.integer({ min: 0, max: 364 }), { maxLength: 4 }),
      fc.array(within, { minLength: 2, maxLength: 8 }),
      (zone, year, hours, off, holidays, minutes) => {
        const first = at(year) / 86_400_000;
        const daysOff = off.map(([day, long, part]) => ({
          from: dayFrom(first + day),
          to: dayFrom(first + day + long),
          hours: part,
        }));
        const free = holidays.map((day) => dayFrom(first + day));
        const list = hours?.map(([day, worked]): WeeklySpan => ({ day, ...worked })) ?? null;
        const calendar = new WorkCalendar({ timeZone: zone, weekly: list }, daysOff, free);
        const judged = (instant: number): boolean => {
          const local = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
          const day = local.toPlainDate().toString();
          const clock = clockText(local.hour * 60 + local.minute);
          const holds = (one: ClockSpan): boolean => one.from <= clock && clock < one.to;
          return (
            !free.includes(day) &&
            !daysOff.some(({ from, to, hours: part }) => from <= day && day <= to && (part === null || holds(part))) &&
            (list === null || list.some((one) => one.day === local.dayOfWeek && holds(one)))
          );
        };
        for (const minute of minutes) {
          const instant = at(year) + minute * 60_000;
          expect([minute, calendar.isWorking(instant)]).toEqual([minute, judged(instant)]);
          const [beside, until] = [instant - 30 * 60_000, instant + 90 * 60_000];
          let worked = 0;
          for (let t = beside; t < until; t += 60_000) if (judged(t)) worked += 1;
          expect(calendar.minutesBetween(beside, until)).toBe(worked);
        }
      },
    ),
    { numRuns: 100 },
  );
});

test('so many minutes later is the first instant up to which so many were worked; the next start is the first that is worked', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...ZONES),
      weekly.filter((hours) => hours === null || hours.length > 0),
      within,
      fc.integer({ min: 1, max: 6000 }),
      (zone, hours, minute, minutes) => {
        const list = hours?.map(([day, worked]): WeeklySpan => ({ day, ...worked })) ?? null;
        const calendar = new WorkCalendar({ timeZone: zone, weekly: list }, [], ['2026-05-01']);
        const from = at('2026-01-01T00:00Z') + minute * 60_000;
        const until = calendar.after(from, minutes)!;
        expect(calendar.minutesBetween(from, until)).toBe(minutes);
        expect(calendar.minutesBetween(from, until - 60_000)).toBe(minutes - 1);
        const start = calendar.nextStart(from)!;
        expect(calendar.isWorking(start)).toBe(true);
        expect(calendar.minutesBetween(from, start)).toBe(0);
        expect(calendar.stretches(from, from + 40 * 86_400_000)[0]?.from ?? start).toBe(start);
      },
    ),
    { numRuns: 150 },
  );
});

// Figures of the time zone database, computed with an independent library: see the property above.
test.each([
  ['Europe/Berlin', '2026-03-29', 23],
  ['America/New_York', '2026-03-08', 23],
  ['Australia/Sydney', '2026-10-04', 23],
  ['Europe/Berlin', '2026-10-25', 25],
  ['America/New_York', '2026-11-01', 25],
  ['Australia/Lord_Howe', '2026-10-04', 23.5],
  ['Australia/Lord_Howe', '2026-04-05', 24.5],
])('in %s the whole of %s is worked for %d hours', (zone, day, hours) => {
  const calendar = new WorkCalendar({ timeZone: zone, weekly: ALL_WEEK });
  const start = Temporal.PlainDate.from(day).toZonedDateTime(zone);
  const end = start.add({ days: 1 });
  expect(calendar.minutesBetween(start.epochMilliseconds, end.epochMilliseconds)).toBe(hours * 60);
});

test('from Friday 17:00 in New York the next start is Monday 09:00, over the change of the clock 63 hours later', () => {
  const friday = at('2026-03-06T17:00-05:00');
  const start = office('America/New_York').nextStart(friday)!;
  expect(start).toBe(at('2026-03-09T09:00-04:00'));
  expect((start - friday) / 3_600_000).toBe(63);
});

test('four working hours from Friday 15:20 end on Monday, and later still after a holiday or a day off', () => {
  const friday = at('2026-03-27T15:20+01:00');
  expect(office('Europe/Berlin').after(friday, 240)).toBe(at('2026-03-30T11:20+02:00'));
  expect(office('Europe/Berlin', [], ['2026-03-30']).after(friday, 240)).toBe(at('2026-03-31T11:20+02:00'));
  const morningOff = { from: '2026-03-30', to: '2026-03-30', hours: { from: '09:00', to: '12:00' } };
  expect(office('Europe/Berlin', [morningOff]).after(friday, 240)).toBe(at('2026-03-30T14:20+02:00'));
});

test('the ends: 09:00 is worked, 17:00 is not; without hours all is worked; who is off for years never starts', () => {
  const oslo = office('Europe/Oslo');
  expect(oslo.isWorking(at('2026-03-02T09:00+01:00'))).toBe(true);
  expect(oslo.isWorking(at('2026-03-02T17:00+01:00'))).toBe(false);
  // The clock of London changed at the end of October 1967, too: instants before 1970 are negative.
  expect(office('Europe/London').isWorking(at('1967-10-31T09:30Z'))).toBe(true);
  const always = new WorkCalendar({ timeZone: 'Europe/Oslo', weekly: null });
  expect(always.after(0, 5)).toBe(300_000);
  expect(always.stretches(7, 9)).toEqual([{ from: 7, to: 9 }]);
  const gone = { from: '2026-01-01', to: '2032-01-01', hours: null };
  expect(office('Europe/Oslo', [gone]).nextStart(at('2026-03-02T09:00+01:00'))).toBeNull();
});

test('times of day are written HH:MM', () => {
  expect(['00:00', '09:30', '24:00', '24:01', '9:30', '12:60'].map(minutesOfDay)).toEqual([
    0,
    570,
    1440,
    null,
    null,
    null,
  ]);
  expect([0, 570, 1440].map(clockText)).toEqual(['00:00', '09:30', '24:00']);
});
