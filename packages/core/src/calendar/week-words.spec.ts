import { readSpans, readWeekWords, spansText, weekWords } from './week-words';
import type { WeeklySpan } from './work-hours';

test.each([
  ['08:00-12:00, 13:00-16:30', '08:00-12:00, 13:00-16:30'],
  ['8–12,13:30 - 17', '08:00-12:00, 13:30-17:00'],
  ['', ''],
  ['0-24', '00:00-24:00'],
])('“%s” is read as “%s”', (typed, text) => {
  expect(spansText(readSpans(typed)!)).toBe(text);
});

test.each(['9', '17-9', '9-25', 'nine to five', '9-12-15', '9:5-10'])('“%s” is no hours', (typed) => {
  expect(readSpans(typed)).toBeNull();
});

test('days alike stand together', () => {
  const on = (from: string, to: string, ...days: number[]): WeeklySpan[] => days.map((day) => ({ day, from, to }));
  expect(weekWords(on('09:00', '17:00', 1, 2, 3, 4, 5))).toBe('Mon–Fri 09:00-17:00');
  expect(weekWords([...on('09:00', '17:00', 1, 2), ...on('09:00', '12:00', 4)])).toBe(
    'Mon–Tue 09:00-17:00; Thu 09:00-12:00',
  );
  expect([weekWords([]), weekWords(null)]).toEqual(['no hours', 'any hour']);
  expect(readWeekWords('mon-tue 9-12, 13-17; Sat 9–12')).toEqual([
    ...[1, 2].flatMap((day) => [...on('09:00', '12:00', day), ...on('13:00', '17:00', day)]),
    ...on('09:00', '12:00', 6),
  ]);
  for (const wrong of ['', 'Mon', 'Mon 17-9', 'Fri-Mon 9-17', 'Mon 9-12; Mon 13-17', 'Lun 9-12'])
    expect(readWeekWords(wrong)).toBeUndefined();
});
