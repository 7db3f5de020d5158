import {
  bindCharter,
  bindCondition,
  type Condition,
  encodePopulation,
  JUST_IN,
  type Place,
  type PopulationRecord,
  readableIn,
  type ReadyCharter,
  readCharter,
  Resident,
  Spot,
  type Subject,
  Sweep,
  TAGS,
} from '@relvik/core';
import { Dice } from './dice';
import { atMost, type Figure, letGo, median, ROUNDS, timeOf } from './measure';
import { AS_OF, CHARTER_JSON, FIELDS, recordsOf, world } from './setting';

/** The records of the bench with owners and times in their stage on many of them. */
function placedRecords(count: number): PopulationRecord[] {
  const dice = new Dice(7);
  return recordsOf(count).map((one) => {
    const place = dice.chance(0.4) ? ({ kind: 'owner', rep: `rep${dice.whole(40)}` } as Place) : null;
    const since = one.record.arrived + dice.whole(20 * 86_400_000);
    const standing = { ...JUST_IN, place, stage: 'new' as never, stageSince: Math.min(since, AS_OF) };
    return { ...one, record: { ...one.record, standing } };
  });
}

const AROUND = world();

const field = (key: string): Subject => ({ kind: 'field', field: key });
const from = (subject: Subject, at: string): Condition => ({
  test: 'range',
  subject,
  from: { at, included: true },
  to: null,
});

/** Ten conditions, one on each subject that is more than a field. */
const CONDITIONS: readonly (readonly [what: string, when: Condition])[] = [
  ['choices, any of two', { test: 'any-of', subject: field('measures'), values: ['Oxygen', 'Flow'] }],
  ['tags, all of two', { test: 'all-of', subject: field(TAGS), values: ['tag 1', 'tag 2'] }],
  ['amount as entered', from({ kind: 'amount', field: 'deal_value' }, '7500')],
  ['happened twice in 30 days', from({ kind: 'happened', activity: 'page_visited', having: [], within: 30 }, '2')],
  ['days in the stage', from({ kind: 'days-in-stage' }, '20')],
  ['arrived', from({ kind: 'arrived' }, '2026-06-01')],
  ['days since the last activity', from({ kind: 'days-since', day: { kind: 'last-activity' } }, '30')],
  ['way in', { test: 'one-of', subject: { kind: 'way-in' }, values: ['form', 'api'] }],
  ['owner’s teams', { test: 'any-of', subject: { kind: 'team' }, values: ['north'] }],
  ['score of a named set', from({ kind: 'set-score', set: 'bench', axis: 'fit' }, '20')],
];

function bound(change: (charter: typeof CHARTER_JSON) => unknown): ReadyCharter {
  const json = structuredClone(CHARTER_JSON);
  change(json);
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  const binding = bindCharter(reading.charter, AROUND);
  if (!binding.ok) throw new Error(JSON.stringify(binding.problems));
  return binding.ready;
}

/** The cost of conditions on more than a field: each by itself, and all of them as routes of a full sweep. */
export function subjectFigures(count: number): Figure[] {
  const population = encodePopulation(placedRecords(count), FIELDS);
  const setting = { timeZone: 'Europe/Oslo', baseCurrency: 'EUR' };
  const reading = { kind: 'on-enact', reach: 'routes' } as const;
  const resident = new Resident(population, AS_OF, setting, AROUND);
  const plain = bound(() => undefined);
  const sweep = new Sweep(resident, reading);
  sweep.run(plain);
  const scope = readableIn(plain.charter, world(), 'route', 'lead');
  for (const [what, when] of CONDITIONS) {
    const ready = bindCondition(when, scope, Spot.root([]));
    const first = timeOf(() => sweep.answerTo(ready));
    const again = Array.from({ length: ROUNDS }, () => {
      resident.forget();
      return timeOf(() => sweep.answerTo(ready));
    });
    console.log(`  ${what}: first ${first.toFixed(1)} ms, then ${median(again).toFixed(2)} ms`);
  }
  const wide = bound((json) => {
    const [stream] = json.streams;
    const more = CONDITIONS.map(([, when], i) => ({ ...stream!.routes[0]!, key: `w${i}`, name: `w${i}`, when }));
    (stream!.routes as object[]).push(...more);
  });
  const full = (charter: ReadyCharter): number => {
    letGo();
    resident.forget();
    return timeOf(() => new Sweep(resident, reading).run(charter));
  };
  full(plain);
  full(wide);
  const ratios = Array.from({ length: ROUNDS }, () => full(wide) / full(plain));
  return [
    atMost(
      'S2',
      `full sweep of ${count.toLocaleString('en')} with ten conditions on more than fields, against without`,
      1.5,
      'sweeps',
      ratios,
    ),
  ];
}
