import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import type { Activity } from '../record/record';
import { activityMotion, countActivities, happenings } from './activity-signal';
import { countSilence, silenceMotion, silentSince } from './silence-signal';
import type { ActivitySignal, SilenceSignal } from './signal';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NOW = 1_000 * DAY;
const base = { key: 'k', name: 'k', axis: 'engagement', on: true, group: null } as const;
const clicks: ActivitySignal = {
  ...base,
  kind: 'activity',
  points: 8,
  activity: 'mail_clicked',
  having: [],
  times: 'each',
  window: null,
  most: null,
  fade: null,
  cap: null,
};
const silence: SilenceSignal = { ...base, kind: 'silence', points: -5, every: 30, most: 3 };
const at = (...ages: number[]): Activity[] => ages.map((age) => ({ kind: 'mail_clicked', at: NOW - age }));
const pointsOf = (change: Partial<ActivitySignal>, activities: Activity[]): number =>
  countActivities({ ...clicks, ...change }, activities, NOW).micro / 1e6;

test('a window leaves out what happened exactly at its far end, and what comes after', () => {
  expect(pointsOf({ window: 30 }, at(30 * DAY, 30 * DAY - 1, 0, -1))).toBe(16);
});

test('a cap by number takes the newest, a cap by points holds what they come to on both sides of zero', () => {
  expect(pointsOf({ most: 2, fade: { kind: 'end', days: 10 } }, at(9 * DAY, 0, 5 * DAY))).toBe(12);
  expect(pointsOf({ cap: 20 }, at(1, 2, 3))).toBe(20);
  expect(pointsOf({ cap: 20, points: -8 }, at(1, 2, 3))).toBe(-20);
});

test('points do not depend on the order in which activities are given, and never exceed what is not faded', () => {
  const activities = fc.array(
    fc.integer({ min: -DAY, max: 90 * DAY }).map((age) => ({ kind: 'mail_clicked', at: NOW - age })),
  );
  const signal = fc.record({
    window: fc.option(fc.integer({ min: 1, max: 60 })),
    most: fc.option(fc.integer({ min: 1, max: 4 })),
    fade: fc.option(
      fc.record({ kind: fc.constantFrom('half-life' as const, 'end' as const), days: fc.integer({ min: 1, max: 40 }) }),
    ),
    cap: fc.option(fc.integer({ min: 1, max: 30 })),
  });
  fc.assert(
    fc.property(activities, signal, (list, change) => {
      const points = pointsOf(change, list);
      expect(pointsOf(change, [...list].reverse())).toBe(points);
      expect(points).toBeLessThanOrEqual(pointsOf({ ...change, fade: null }, list));
      expect(points).toBeLessThanOrEqual(change.cap ?? Infinity);
    }),
  );
});

test('silence runs from the last thing they did: our own mail does not break it, nor what is still to come', () => {
  const arrived = NOW - 100 * DAY;
  const lost = (activities: Activity[]): number =>
    countSilence(silence, silentSince(KINDS, activities, arrived, NOW), NOW).micro / 1e6;
  expect(lost([])).toBe(-15);
  expect(lost(at(59 * DAY))).toBe(-5);
  expect(lost(at(60 * DAY))).toBe(-10);
  expect(lost([...at(60 * DAY), { kind: 'mail_sent', at: NOW }, { kind: 'form_filled', at: NOW + 1 }])).toBe(-10);
  expect(lost(at(0))).toBe(-0);
});

test('until an age becomes an hour more or a turn comes points stay; at the next hour they move by no more than said', () => {
  const signals = fc.record({
    points: fc.integer({ min: -50, max: 50 }),
    window: fc.option(fc.integer({ min: 1, max: 20 })),
    most: fc.option(fc.integer({ min: 1, max: 3 })),
    fade: fc.option(
      fc.record({ kind: fc.constantFrom('half-life' as const, 'end' as const), days: fc.integer({ min: 1, max: 20 }) }),
    ),
  });
  const ages = fc.array(fc.integer({ min: 0, max: 30 * DAY }), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(signals, ages, fc.integer({ min: 1, max: 200 }), (change, own, hours) => {
      const signal = { ...clicks, ...change };
      const activities = at(...own);
      const times = happenings(signal, activities);
      const { micro, tick, turns, above, below, sinks, rises } = activityMotion(signal, times, NOW);
      expect(micro).toBe(countActivities(signal, activities, NOW).micro);
      const turn = Math.min(...turns.filter((one) => one > NOW));
      const changes = Math.min(tick ?? Infinity, turn);
      if (changes > NOW + 1 && changes < Infinity)
        expect(countActivities(signal, activities, changes - 1).micro).toBe(micro);
      const later = NOW + hours * HOUR;
      if (later >= turn) return;
      const moved = countActivities(signal, activities, later).micro - micro;
      expect(moved).toBeGreaterThanOrEqual(-Math.min(above, hours * sinks));
      expect(moved).toBeLessThanOrEqual(Math.min(below, hours * rises));
    }),
  );
});

test('silence stays what it is until its next step, which adds what it says', () => {
  const steps = fc.record({ every: fc.integer({ min: 1, max: 40 }), most: fc.option(fc.integer({ min: 1, max: 5 })) });
  fc.assert(
    fc.property(steps, fc.integer({ min: 0, max: 200 * DAY }), (change, age) => {
      const signal = { ...silence, ...change };
      const { micro, step } = silenceMotion(signal, NOW - age, NOW);
      if (step === null) expect(countSilence(signal, NOW - age, NOW + 9999 * DAY).micro).toBe(micro);
      else {
        expect(countSilence(signal, NOW - age, step.at - 1).micro).toBe(micro);
        expect(countSilence(signal, NOW - age, step.at).micro).toBe(micro + step.by);
      }
    }),
  );
});
