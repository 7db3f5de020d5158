import federal from '@18f/us-federal-holidays';
import { getHolidays, type Region } from 'feiertagejs';
import { holidayPlaces, isHolidayPlace, publicHolidays } from './public-holidays';

// Facts of the calendar, from memory.
test.each([
  ['NO', ['2026-05-17', '2026-12-25'], ['2026-12-24', '2026-06-24']],
  ['DE-BY', ['2026-01-06', '2026-10-03'], ['2026-10-31']],
  ['DE-BE', ['2026-03-08', '2026-10-03'], ['2026-01-06']],
  // The fourth of July is a Saturday: it is kept the day before, and both are off.
  ['US', ['2026-07-03', '2026-07-04', '2026-11-26'], ['2026-11-30']],
  ['GB-SCT', ['2026-01-02', '2026-11-30'], ['2026-04-06']],
])('public holidays of %s: %j, and not %j', (place, off, on) => {
  const days = publicHolidays(place, 2026);
  expect(off.filter((day) => !days.includes(day))).toEqual([]);
  expect(on.filter((day) => days.includes(day))).toEqual([]);
  expect(days).toEqual([...new Set(days)].sort());
});

const YEARS = [2024, 2025, 2026, 2027, 2028];
/** Days that only one of two lists has: `+` ours, `-` the other. */
const differences = (ours: readonly string[], theirs: readonly string[]): string[] => [
  ...ours.filter((day) => !theirs.includes(day)).map((day) => `+${day}`),
  ...theirs.filter((day) => !ours.includes(day)).map((day) => `-${day}`),
];
/** Assumption is kept in most, not all, towns of Bavaria; Berlin had a day off for an anniversary, and will have another. */
const KNOWN: Partial<Record<Region, readonly string[]>> = {
  BY: YEARS.map((year) => `-${year}-08-15`),
  BE: ['+2025-05-08', '+2028-06-17'],
};
const daysIn = (place: string, year: number): readonly string[] =>
  publicHolidays(place, 2026).filter((day) => day.startsWith(`${year}-`));

test.each('BW BY BE BB HB HE HH MV NI NW RP SL SN ST SH TH'.split(' ') as Region[])(
  'public holidays of DE-%s are those of another package (feiertagejs 1.5)',
  (state) => {
    const seen = YEARS.flatMap((year) =>
      differences(
        daysIn(`DE-${state}`, year),
        getHolidays(year, state).map(({ dateString }) => dateString),
      ),
    );
    expect(seen).toEqual(KNOWN[state] ?? []);
  },
);

test('public holidays of the United States are the federal ones and the days on which they are kept (@18f/us-federal-holidays 4.0)', () => {
  const seen = YEARS.flatMap((year) => {
    const asThey = federal.allForYear(year);
    const unmoved = federal.allForYear(year, { shiftSaturdayHolidays: false, shiftSundayHolidays: false });
    const days = [...asThey, ...unmoved].map(({ dateString }) => dateString);
    return differences(
      daysIn('US', year),
      [...new Set(days)].filter((day) => day.startsWith(`${year}-`)),
    );
  });
  // The day before the first of January 2028, a Saturday, which they list with its year; they alone move Veterans Day.
  expect(seen).toEqual(['+2027-12-31', '-2028-11-10']);
});

test('places: countries, and parts of those that have any; what is no country has none', () => {
  expect(holidayPlaces(null).length).toBeGreaterThan(100);
  expect(holidayPlaces('US')).toContainEqual({ key: 'US-CA', name: 'California' });
  expect(['NO', 'zz', '__proto__', ''].map((country) => holidayPlaces(country))).toEqual([[], [], [], []]);
  expect(['NO', 'DE-BY', 'DE-XX', 'zz', 'toString', ''].map(isHolidayPlace)).toEqual([
    ...[true, true, false, false, false, false],
  ]);
});
