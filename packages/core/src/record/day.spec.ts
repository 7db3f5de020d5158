import fc from 'fast-check';
import { dayOf, isDay, isTimeZone, parseInstant } from './day';

test('the day of an instant is that of the zone, as the engine’s own calendar says, also across clock changes', () => {
  const instants = fc.integer({ min: Date.parse('2020-01-01T00:00:00Z'), max: Date.parse('2030-01-01T00:00:00Z') });
  fc.assert(
    fc.property(
      instants,
      fc.constantFrom('Europe/Oslo', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'UTC'),
      (at, timeZone) => {
        const parts = new Intl.DateTimeFormat('sv-SE', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' });
        expect(dayOf(at, timeZone)).toBe(parts.format(at));
      },
    ),
  );
});

test('days and zones that do not exist are told apart from those that do', () => {
  expect(['2026-02-28', '2026-02-29', '2024-02-29', '2026-2-1', '28.02.2026', ''].map(isDay)).toEqual([
    true,
    false,
    true,
    false,
    false,
    false,
  ]);
  expect(['Europe/Oslo', 'Europe/Atlantis'].map(isTimeZone)).toEqual([true, false]);
  expect(() => dayOf(0, 'Europe/Atlantis')).toThrow('No such time zone: Europe/Atlantis');
});

test.each([
  ['2026-11-24T08:30:00Z', Date.UTC(2026, 10, 24, 8, 30)],
  ['2026-11-24T09:30:00+01:00', Date.UTC(2026, 10, 24, 8, 30)],
  ['2026-11-24T08:30:00', null],
  ['2026-11-24', null],
  ['2026-13-01T00:00:00Z', null],
  ['now', null],
])('%s as an instant is %p', (text, at) => {
  expect(parseInstant(text)).toBe(at);
});
