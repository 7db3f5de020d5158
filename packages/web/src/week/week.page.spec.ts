import type { TeamWeek } from '@relvik/contracts';
import { PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { daysOfWeek, drawnIn, hoursIn, mondayIn, mondayOf } from './week-days';
import { WeekPage } from './week.page';

const HOUR = 3_600_000;
const MONDAY = new Date(2026, 2, 2).getTime();
const WEEK = {
  ...{ team: 'north', paused: false, now: MONDAY + 9 * HOUR },
  members: [
    {
      ...{
        key: 'ada',
        away: false,
        zone: 'Europe/Oslo',
        daysOff: [{ from: '2026-03-06', to: '2026-03-06', hours: null }],
        worksNow: true,
        backAt: null,
      },
      ...{ open: 10, limit: 10, next: ['north'] },
      stretches: [
        { from: MONDAY + 8 * HOUR, to: MONDAY + 12 * HOUR },
        { from: MONDAY + 13 * HOUR, to: MONDAY + 16 * HOUR },
        { from: MONDAY + 47 * HOUR, to: MONDAY + 50 * HOUR },
      ],
    },
    {
      ...{ key: 'bo', away: true, zone: null, daysOff: [], worksNow: true, backAt: null },
      ...{ open: 3, limit: null, next: [], stretches: [{ from: MONDAY, to: MONDAY + 7 * 24 * HOUR }] },
    },
  ],
} as unknown as TeamWeek;

test('a team’s week: hours by day, who works now, loads, and who is next', async () => {
  const page = await PageTest.open(WeekPage, { team: 'north', day: '2026-03-05' });
  await page.answer('/api/people', PEOPLE);
  await page.answer('/api/week', WEEK);
  const rows = [...page.element.querySelectorAll('tbody tr')].map(wordsOf);
  expect(rows[0]).toBe(
    'Ada Lindqvist Europe/Oslo works now 08:00–12:00, 13:00–16:00 23:00–24:00 00:00–02:00 no hours day off no hours no hours 10 of 10 Nordics',
  );
  expect(rows[1]).toMatch(/^Bo Rask works at any hour away (all day ){7}3$/);
  expect(page.element.querySelectorAll('.day-track u')).toHaveLength(2);
  expect(page.element.querySelectorAll('.day-track i')).toHaveLength(4 + 7);
});

test('days of a week by the reader’s clock: a day of an address finds its Monday, days touch, parts are drawn by their share', () => {
  expect(mondayIn('2026-03-08')?.toISODate()).toBe('2026-03-02');
  expect([mondayIn('2026-02-30'), mondayIn('soon')]).toEqual([null, null]);
  for (const at of [MONDAY, MONDAY + 27 * 24 * HOUR, Date.UTC(2026, 9, 25)]) {
    const days = daysOfWeek(mondayOf(at));
    expect(days.slice(1).map(({ from }) => from)).toEqual(days.slice(0, -1).map(({ to }) => to));
    expect(new Date(days[0]?.from ?? 0).getDay()).toBe(1);
  }
  const day = { from: MONDAY, to: MONDAY + 24 * HOUR };
  expect(drawnIn(day, { from: MONDAY - HOUR, to: MONDAY + 6 * HOUR })).toEqual({ left: 0, width: 25 });
  expect(drawnIn(day, { from: day.to, to: day.to + HOUR })).toBe(null);
  expect(hoursIn(day, [{ from: MONDAY - HOUR, to: day.to }])).toBe('all day');
});
