import fc from 'fast-check';
import { readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import { GatheredFacts } from './facts';
import type { Instant } from '../record/keys';
import { JUST_IN, type MovingRecord } from '../record/record';
import { records } from '../sweep/rows.fixture';
import { AS_OF, charter, WORLD } from '../sweep/sweep.fixture';
import { scoresChangeAt } from './scores-change-at';
import { scoreBySets } from '../score/score-by-sets';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const TEN_YEARS = 3650 * DAY;

function scoresAt(ready: ReadyCharter, record: MovingRecord, at: Instant): (string | number | null)[] {
  const score = scoreBySets(ready.rules.lead.scoreSets, record, GatheredFacts.of(record, WORLD, ready, at), at);
  // Whether a set admits it can turn from unjudged to no, with no score before and after: gates go on with it then.
  return [
    score.admitted,
    ...[score, ...score.beside].flatMap(({ set, fit, engagement }) => [
      set,
      ...[fit, engagement].map((axis) => (axis.judged ? axis.score : null)),
    ]),
  ];
}

test('up to the instant found the scores stay, at it one of them is another: against each hour of two months, and each activity’s own', () => {
  let changing = 0;
  let never = 0;
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      for (const { record } of list.slice(0, 4)) {
        const found = scoresChangeAt(ready, record, WORLD, AS_OF);
        const now = scoresAt(ready, record, AS_OF);
        if (found < AS_OF + TEN_YEARS) {
          changing += 1;
          expect(scoresAt(ready, record, found)).not.toEqual(now);
          expect(scoresAt(ready, record, found - 1)).toEqual(now);
        } else never += 1;
        const end = Math.min(found, AS_OF + 60 * DAY);
        for (let hour = AS_OF; hour < end; hour += 7 * HOUR) {
          // Each activity grows older at its own minute of the hour.
          const at = hour + ((((record.activities[0]?.at ?? 0) % HOUR) + HOUR) % HOUR);
          if (at > AS_OF && at < end) expect([at, scoresAt(ready, record, at)]).toEqual([at, now]);
        }
      }
    }),
    { numRuns: 60 },
  );
  expect(changing).toBeGreaterThan(15);
  expect(never).toBeGreaterThan(10);
});

/** The small charter with these signals for engagement, from −50 to 100. */
function withSignals(...signals: readonly object[]): ReadyCharter {
  return readyCharter(
    {
      ...SMALL_CHARTER,
      scoreSets: [
        {
          ...SMALL_CHARTER.scoreSets[0]!,
          engagement: { least: -50, most: 100, decimals: 0 },
          signals: signals.map((one, i) => ({ key: `s${i}`, name: `s${i}`, axis: 'engagement', ...one })),
        },
      ],
    },
    smallWorld(),
  );
}

function did(...ages: readonly number[]): MovingRecord {
  return {
    id: '1',
    arrived: AS_OF,
    kind: 'lead',
    way: null,
    standing: JUST_IN,
    values: new Map(),
    activities: ages.map((age) => ({ kind: 'mail_clicked', at: AS_OF - age })),
  };
}

test('a half-life: 20 points are shown as 19 once less than 19.5 are left, in the first whole hour after that', () => {
  const ready = withSignals(
    {
      kind: 'attribute',
      points: 0,
      when: { test: 'all', of: [] },
    },
    { kind: 'activity', activity: 'mail_clicked', points: 20, fade: { kind: 'half-life', days: 30 } },
  );
  // 20 · 2^(−h/720) < 19.5 from h = 720 · log2(20 / 19.5) on.
  const hours = Math.ceil(720 * Math.log2(20 / 19.5));
  expect(scoresChangeAt(ready, did(0), WORLD, AS_OF)).toBe(AS_OF + hours * HOUR);
  // Its own minute counts, not ours.
  expect(scoresChangeAt(ready, did(10 * 60_000), WORLD, AS_OF)).toBe(AS_OF + hours * HOUR - 10 * 60_000);
});

test('silence that goes on below the lowest score is not waited for, and a window ends to the millisecond', () => {
  const silent = withSignals({ kind: 'silence', points: -30, every: 1 });
  expect(scoresChangeAt(silent, did(), WORLD, AS_OF)).toBe(AS_OF + DAY);
  expect(scoresChangeAt(silent, { ...did(), arrived: AS_OF - 9 * DAY }, WORLD, AS_OF)).toBe(AS_OF + TEN_YEARS);
  const week = withSignals({ kind: 'activity', activity: 'mail_clicked', points: 5, window: 7 });
  expect(scoresChangeAt(week, did(3 * DAY, 1), WORLD, AS_OF)).toBe(AS_OF + 4 * DAY);
});
