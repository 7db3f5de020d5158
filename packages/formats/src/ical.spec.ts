import { clockText, type DaysOff } from '@relvik/core';
import fc from 'fast-check';
import { daysOffFromIcal, type IcalReading } from './days-off-from-ical';
import { workTimesToIcal } from './work-times-to-ical';

const file = (...lines: string[]): string =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//test', ...lines, 'END:VCALENDAR', ''].join('\r\n');
let uid = 0;
const event = (...lines: string[]): string[] => [
  'BEGIN:VEVENT',
  `UID:${(uid += 1)}`,
  'SUMMARY:E',
  ...lines,
  'END:VEVENT',
];
const daysOff = (reading: IcalReading): readonly DaysOff[] => {
  if (!reading.ok) throw new Error(reading.problem);
  return reading.daysOff;
};
const NEW_YORK = 'America/New_York';

// RFC 5545, section 3.8.5.3, as in checks.md: the texts are those of the standard, the counts and days its results.
test('recurrences of RFC 5545: daily until Christmas Eve is 113 days, the first Friday ten times', () => {
  const window = { from: '1997-01-01', to: '1999-12-31' };
  const read = (rule: string, start: string) =>
    daysOff(
      daysOffFromIcal(
        file(...event(`DTSTART;TZID=${NEW_YORK}:${start}`, 'DURATION:PT1H', `RRULE:${rule}`)),
        NEW_YORK,
        window,
      ),
    );
  const daily = read('FREQ=DAILY;UNTIL=19971224T000000Z', '19970902T090000');
  expect(daily).toHaveLength(113);
  expect(daily.at(0)).toEqual({ from: '1997-09-02', to: '1997-09-02', hours: { from: '09:00', to: '10:00' } });
  expect(daily.at(-1)?.from).toBe('1997-12-23');
  expect(read('FREQ=MONTHLY;COUNT=10;BYDAY=1FR', '19970905T090000').map(({ from }) => from.slice(5))).toEqual([
    '09-05',
    '10-03',
    '11-07',
    '12-05',
    '01-02',
    '02-06',
    '03-06',
    '04-03',
    '05-01',
    '06-05',
  ]);
});

test('whole days end before their last day; what crosses midnight is parts of days; other zones and UTC are converted', () => {
  const window = { from: '2026-01-01', to: '2026-12-31' };
  const read = (...lines: string[]) => daysOff(daysOffFromIcal(file(...lines), 'Europe/Oslo', window));
  expect(read(...event('DTSTART;VALUE=DATE:20260713', 'DTEND;VALUE=DATE:20260718'))).toEqual([
    { from: '2026-07-13', to: '2026-07-17', hours: null },
  ]);
  expect(read(...event('DTSTART;VALUE=DATE:20260713'))).toEqual([
    { from: '2026-07-13', to: '2026-07-13', hours: null },
  ]);
  expect(read(...event('DTSTART:20260713T133000', 'DTEND:20260715T101500'))).toEqual([
    { from: '2026-07-13', to: '2026-07-13', hours: { from: '13:30', to: '24:00' } },
    { from: '2026-07-14', to: '2026-07-14', hours: null },
    { from: '2026-07-15', to: '2026-07-15', hours: { from: '00:00', to: '10:15' } },
  ]);
  // 23:30 UTC in summer is half past one in Oslo, on the next day.
  expect(read(...event('DTSTART:20260713T233000Z', 'DTEND:20260714T003000Z'))).toEqual([
    { from: '2026-07-14', to: '2026-07-14', hours: { from: '01:30', to: '02:30' } },
  ]);
  expect(read(...event(`DTSTART;TZID=${NEW_YORK}:20260713T090000`, 'DURATION:PT2H'))[0]?.hours).toEqual({
    ...{ from: '15:00', to: '17:00' },
  });
});

test('exceptions of a recurring event count; what leaves free or is cancelled is passed over; no calendar is refused', () => {
  const weekly = event('DTSTART;VALUE=DATE:20260706', 'RRULE:FREQ=WEEKLY;COUNT=3', 'EXDATE;VALUE=DATE:20260713');
  const moved = [
    'BEGIN:VEVENT',
    `UID:${uid}`,
    'RECURRENCE-ID;VALUE=DATE:20260720',
    'DTSTART;VALUE=DATE:20260722',
    'END:VEVENT',
  ];
  const reading = daysOffFromIcal(
    file(
      ...weekly,
      ...moved,
      ...event('DTSTART;VALUE=DATE:20260801', 'TRANSP:TRANSPARENT'),
      ...event('DTSTART;VALUE=DATE:20260802', 'STATUS:CANCELLED'),
      ...event('DTSTART;VALUE=DATE:20190802'),
    ),
    'Europe/Oslo',
    { from: '2026-01-01', to: '2026-12-31' },
  );
  expect(daysOff(reading).map(({ from }) => from)).toEqual(['2026-07-06', '2026-07-22']);
  expect(reading.ok && reading.passedOver.map(({ why }) => why)).toEqual([
    ...['leaves free', 'is cancelled', 'outside the time that is read'],
  ]);
  for (const text of ['', 'name;day\r\nAda;2026-07-13', 'BEGIN:VCARD\r\nEND:VCARD\r\n'])
    expect(daysOffFromIcal(text, 'UTC', { from: '2026-01-01', to: '2026-12-31' })).toMatchObject({ ok: false });
});

test('what is written is read back the same, in any zone; working hours leave free', () => {
  const clock = fc.integer({ min: 0, max: 95 }).map((quarter) => quarter * 15);
  const spans = fc
    .tuple(clock, clock)
    .filter(([from, to]) => from < to)
    .map(([from, to]) => ({ from: clockText(from), to: clockText(to) }));
  const days = fc
    .record({
      start: fc.integer({ min: 0, max: 300 }),
      length: fc.integer({ min: 0, max: 9 }),
      hours: fc.option(spans),
    })
    .map(({ start, length, hours }): DaysOff => {
      const day = (n: number) => new Date(Date.UTC(2026, 0, 1 + n)).toISOString().slice(0, 10);
      return { from: day(start), to: day(start + length), hours };
    });
  fc.assert(
    fc.property(
      fc.constantFrom('Europe/Oslo', NEW_YORK, 'Asia/Kathmandu', 'Australia/Lord_Howe', 'UTC'),
      fc.array(days, { maxLength: 4 }),
      fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 5 }),
      (timeZone, off, worked) => {
        const weekly = worked.map((day) => ({ day, from: '08:00', to: '16:00' }));
        const text = workTimesToIcal({ key: 'ada', timeZone, weekly, daysOff: off }, Date.UTC(2026, 0, 7));
        const reading = daysOffFromIcal(text, timeZone, { from: '2025-12-01', to: '2027-02-01' });
        const each = (one: DaysOff): string[] => {
          const all: string[] = [];
          const last = Date.parse(one.to);
          for (let at = Date.parse(one.from); at <= last; at += 86_400_000)
            all.push(`${new Date(at).toISOString().slice(0, 10)} ${one.hours?.from ?? 'whole'} ${one.hours?.to ?? ''}`);
          return all;
        };
        expect([...new Set(daysOff(reading).flatMap(each))].sort()).toEqual([...new Set(off.flatMap(each))].sort());
        expect(reading.ok && reading.passedOver.map(({ why }) => why)).toEqual(worked.map(() => 'leaves free'));
      },
    ),
    { numRuns: 150 },
  );
});
