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

test('places: countries, and parts of those that have any; what is no country has none', () => {
  expect(holidayPlaces(null).length).toBeGreaterThan(100);
  expect(holidayPlaces('US')).toContainEqual({ key: 'US-CA', name: 'California' });
  expect(['NO', 'zz', '__proto__', ''].map((country) => holidayPlaces(country))).toEqual([[], [], [], []]);
  expect(['NO', 'DE-BY', 'DE-XX', 'zz', 'toString', ''].map(isHolidayPlace)).toEqual([
    ...[true, true, false, false, false, false],
  ]);
});
