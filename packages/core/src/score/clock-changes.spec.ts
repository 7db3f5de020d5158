import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { KINDS } from '../charter/charter.fixture';
import { bindCondition } from '../condition/bind-condition';
import type { Condition } from '../condition/condition';
import { SCOPE } from '../condition/conditions.fixture';
import { NO_FACTS } from '../condition/facts';
import { judge } from '../condition/judge';
import { daysBefore, wholeDays, wholeDaysOver } from '../record/stage-days';
import { Spot } from '../document/problem';
import { dayNumber, dayOf, startOfDay } from '../record/day';
import { countActivities } from '../signal/activity-signal';
import { countSilence, silentSince } from '../signal/silence-signal';
import type { ActivitySignal, SilenceSignal } from '../signal/signal';

// Outside judge: Temporal (TC39, here its polyfill), at instants around the clock changes of several zones. A window and a
// silence are of whole 24 hours, also across a change; days of the calendar are those of the charter's zone.

const ZONES = [
  'Europe/Berlin',
  'America/New_York',
  'Australia/Sydney',
  'Australia/Lord_Howe',
  'Pacific/Apia',
  'Asia/Kolkata',
];
/** Changes of 2026 in these zones (checks.md, Time), and the day that Apia left out. */
const CHANGES = ['2026-03-29', '2026-10-25', '2026-03-08', '2026-11-01', '2026-04-05', '2026-10-04', '2011-12-30'];
const MINUTE = 60_000;

const around = fc
  .tuple(fc.constantFrom(...CHANGES), fc.integer({ min: -3 * 24 * 60, max: 3 * 24 * 60 }))
  .map(([day, minutes]) => Date.parse(`${day}T02:00:00Z`) + minutes * MINUTE);
const zone = fc.constantFrom(...ZONES);
const common = { key: 'k', name: 'k', axis: 'engagement', on: true, group: null, points: 1 } as const;

function hoursBetween(from: number, to: number): number {
  return Temporal.Instant.fromEpochMilliseconds(from)
    .until(Temporal.Instant.fromEpochMilliseconds(to), { largestUnit: 'hours' })
    .total('hours');
}

test('what lies in a window, and how many steps a silence has, is what Temporal says', () => {
  fc.assert(
    fc.property(
      around,
      fc.array(fc.integer({ min: -60, max: 6 * 24 * 60 })),
      fc.integer({ min: 1, max: 5 }),
      (asOf, ages, days) => {
        const activities = ages.map((minutes) => ({ kind: 'mail_clicked', at: asOf - minutes * MINUTE }));
        const window: ActivitySignal = {
          ...common,
          kind: 'activity',
          activity: 'mail_clicked',
          having: [],
          times: 'each',
          window: days,
          most: null,
          fade: null,
          cap: null,
        };
        const opens = Temporal.Instant.fromEpochMilliseconds(asOf).subtract({ hours: 24 * days });
        const inside = activities.filter(({ at }) => {
          const instant = Temporal.Instant.fromEpochMilliseconds(at);
          return Temporal.Instant.compare(instant, opens) > 0 && at <= asOf;
        });
        expect(countActivities(window, activities, asOf).counted).toBe(inside.length);

        const silence: SilenceSignal = { ...common, kind: 'silence', every: days, most: null };
        const arrived = asOf - 9 * 24 * 60 * MINUTE;
        const since = silentSince(KINDS, activities, arrived, asOf);
        const last = Math.max(...activities.filter(({ at }) => at <= asOf).map(({ at }) => at));
        expect(since).toBe(Number.isFinite(last) ? last : arrived);
        expect(countSilence(silence, since, asOf).counted).toBe(Math.floor(hoursBetween(since, asOf) / 24 / days));
      },
    ),
    { numRuns: 400 },
  );
});

test('whole days in a stage are those that Temporal adds by the clock, and many are compared by one instant', () => {
  fc.assert(
    fc.property(
      around,
      zone,
      fc.integer({ min: -2, max: 60 * 24 }),
      fc.integer({ min: 0, max: 40 }),
      (asOf, at, hours, n) => {
        const since = asOf - hours * 3_600_000;
        const begun = Temporal.Instant.fromEpochMilliseconds(since).toZonedDateTimeISO(at);
        let days = 0;
        while (begun.add({ days: days + 1 }).epochMilliseconds <= asOf) days += 1;
        expect(wholeDays(since, asOf, at)).toBe(days);
        expect(wholeDaysOver(since, n, at)).toBe(begun.add({ days: n }).epochMilliseconds);
        expect(since <= daysBefore(asOf, n, at)).toBe(days >= n);
      },
    ),
    { numRuns: 400 },
  );
});

test('the day of an instant, where a day begins, and so many days ago are what Temporal says', () => {
  fc.assert(
    fc.property(
      around,
      zone,
      fc.integer({ min: -40, max: 40 }),
      fc.integer({ min: -30, max: 30 }),
      (asOf, at, back, ago) => {
        const local = Temporal.Instant.fromEpochMilliseconds(asOf).toZonedDateTimeISO(at);
        expect(dayOf(asOf, at)).toBe(local.toPlainDate().toString());
        expect(startOfDay(dayNumber(dayOf(asOf, at)), at)).toBe(local.startOfDay().epochMilliseconds);

        const day = local.toPlainDate().subtract({ days: back });
        const test: Condition = {
          test: 'range',
          subject: { kind: 'days-since', day: { kind: 'field', field: 'since' } },
          from: { at: String(ago), included: true },
          to: null,
        };
        const ready = bindCondition(test, SCOPE, Spot.root([]));
        const answer = judge(ready, {
          ...NO_FACTS,
          value: () => ({ kind: 'date', day: day.toString() }),
          today: () => dayNumber(dayOf(asOf, at)),
        });
        expect(answer).toBe(day.until(local.toPlainDate(), { largestUnit: 'days' }).days >= ago ? 'yes' : 'no');
      },
    ),
    { numRuns: 400 },
  );
});
