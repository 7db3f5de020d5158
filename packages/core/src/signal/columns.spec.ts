import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import { FIELDS } from '../condition/conditions.fixture';
import type { RecordFacts } from '../record/record';
import { countActivities } from './activity-signal';
import { countSilence, silentSince } from './silence-signal';
import type { ActivitySignal, SilenceSignal } from './signal';
import { hasBit, noBits } from '../column/bits';
import { encodePopulation } from '../sweep/encode';
import { addActivities } from './activity-column';
import { addSilence } from './silence-signal';
import { Resident } from '../sweep/resident';
import { RATES } from '../sweep/sweep.fixture';

const HOUR = 3_600_000;
const AS_OF = Date.parse('2026-02-28T12:00:00Z');
const SEEN = ['mail_clicked', 'mail_sent'];

const common = { key: 'one' as never, name: 'one', axis: 'engagement' as const, on: true, group: null };
const activitySignal = fc.record({
  times: fc.constantFrom('each' as const, 'each' as const, 'each' as const, 'first' as const),
  points: fc.integer({ min: -3000, max: 3000 }).map((hundredths) => hundredths / 100),
  window: fc.option(fc.integer({ min: 1, max: 40 }), { freq: 2 }),
  most: fc.option(fc.integer({ min: 1, max: 4 })),
  cap: fc.option(fc.integer({ min: 1, max: 60 }), { freq: 2 }),
  fade: fc.option(
    fc.record({ kind: fc.constantFrom('half-life' as const, 'end' as const), days: fc.integer({ min: 1, max: 60 }) }),
    { freq: 2 },
  ),
});

/** What records did, most of it long ago, some after the moment asked about. */
const did = fc.array(
  fc.array(
    fc.record({
      kind: fc.constantFrom(...SEEN),
      at: fc
        .oneof(fc.integer({ min: -50, max: 24 * 30 }), fc.integer({ min: 24 * 30, max: 24 * 600 }))
        .map((hours) => AS_OF - hours * HOUR),
    }),
    { maxLength: 8 },
  ),
  { minLength: 1, maxLength: 40 },
);

const arrivalOf = (i: number): number => AS_OF - i * 30 * HOUR;

function residentOf(list: readonly RecordFacts['activities'][]): Resident {
  const records = list.map((activities, i) => ({
    record: {
      id: String(i + 1),
      arrived: arrivalOf(i),
      kind: 'lead' as const,
      way: null,
      standing: null,
      values: new Map(),
      activities,
    },
    closed: null,
    touched: AS_OF,
  }));
  return new Resident(
    encodePopulation(records, FIELDS),
    AS_OF,
    { timeZone: 'Europe/Oslo', baseCurrency: 'EUR' },
    { kinds: KINDS, rates: RATES, teams: new Map() },
  );
}

test('points for activities by columns are those of each record by itself, and taken away again nothing is left', () => {
  const ways = { first: 0, capped: 0, young: 0, all: 0 };
  fc.assert(
    fc.property(activitySignal, did, (asked, list) => {
      const signal: ActivitySignal = { ...common, kind: 'activity', activity: 'mail_clicked', having: [], ...asked };
      const here = residentOf(list);
      const sorted = jest.spyOn(here, 'eventsByAge');
      const sums = new Float64Array(list.length);
      const touched = noBits(list.length);
      addActivities(signal, here, 1, sums, touched);
      list.forEach((activities, i) => {
        const { micro } = countActivities(signal, activities, AS_OF);
        expect([i, sums[i]! + 0]).toEqual([i, micro + 0]);
        if (micro !== 0) expect(hasBit(touched, i)).toBe(true);
      });
      ways[
        signal.times === 'first'
          ? 'first'
          : signal.cap !== null
            ? 'capped'
            : sorted.mock.calls.length > 0
              ? 'young'
              : 'all'
      ] += 1;
      addActivities(signal, here, -1, sums, touched);
      expect([...sums].every((sum) => sum === 0)).toBe(true);
    }),
    { numRuns: 600 },
  );
  for (const many of Object.values(ways)) expect(many).toBeGreaterThan(40);
});

test('points for silence by columns are those of each record by itself; our own mail does not break it', () => {
  const silence = fc.record({
    points: fc.integer({ min: -20, max: -1 }),
    every: fc.integer({ min: 1, max: 60 }),
    most: fc.option(fc.integer({ min: 1, max: 5 })),
  });
  fc.assert(
    fc.property(silence, did, (asked, list) => {
      const signal: SilenceSignal = { ...common, kind: 'silence', ...asked };
      const sums = new Float64Array(list.length);
      addSilence(signal, residentOf(list), 1, sums, noBits(list.length));
      list.forEach((activities, i) => {
        const since = silentSince(KINDS, activities, arrivalOf(i), AS_OF);
        expect([i, sums[i]! + 0]).toEqual([i, countSilence(signal, since, AS_OF).micro + 0]);
      });
    }),
    { numRuns: 300 },
  );
});
