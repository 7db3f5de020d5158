import { stagesOf } from '../gate/pipeline';
import fc from 'fast-check';
import type { ReadyCharter } from '../charter/ready-charter';
import { readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import type { Condition } from '../condition/condition';
import { ALL_FIELDS, HAVING } from '../condition/conditions.fixture';
import { VERDICT_KEYS } from '../grade/verdict';
import { Rates } from '../record/money';
import type { World } from '../people/world';

import { computed, condition, mixed, on, option, STAGES, TERRITORIES } from './charter-conditions.fixture';
import { effect } from './effect.fixture';
import { stream } from './streams.fixture';

export { option, STAGES, TERRITORIES };

export const AS_OF = Date.parse('2026-02-28T12:00:00Z');

export const RATES = new Rates([{ currency: 'NOK', from: '2026-01-01', micro: 85_000 }], 'EUR');
export const WORLD: World = {
  ...smallWorld((document) => {
    const { teams, reps } = document as unknown as { teams: object[]; reps: object[] };
    teams.push({ key: 'south', name: 'Team south', members: ['bo', 'dee', 'eli', 'fay'], parent: 'north' });
    Object.assign(document, {
      skills: [{ key: 'trades', name: 'Trades', words: ['Brewery', 'Fish farm', 'Käserei'] }],
    });
    const days = [1, 2, 3, 4, 5];
    const hours = (timeZone: string, from: string, to: string) => ({
      ...{ timeZone, weekly: days.map((day) => ({ day, from, to })) },
    });
    reps.push(
      // Records come in at 13:00 in Oslo: it has just begun, begins later, and has ended.
      { key: 'dee', name: 'Dee', limit: 4, hours: hours('Europe/Oslo', '13:00', '15:00'), weight: 2 },
      { key: 'eli', name: 'Eli', limit: 5, hours: hours('America/New_York', '09:00', '17:00'), holidaysOf: 'US' },
      { key: 'fay', name: 'Fay', limit: 3, hours: hours('Asia/Kathmandu', '09:15', '17:45') },
    );
    Object.assign(document, { holidays: [{ place: 'US', days: ['2026-01-01', '2026-02-16'] }] });
    Object.assign(reps[1] as object, { skills: [{ skill: 'trades', has: ['Brewery', 'Käserei'] }], weight: 0.5 });
    Object.assign(reps[3] as object, { skills: [{ skill: 'trades', has: ['Fish farm', 'Käserei'] }] });
  }),
  fields: ALL_FIELDS,
  rates: RATES,
};

const axis = fc.constantFrom('fit', 'engagement');
const points = fc.integer({ min: -3000, max: 3000 }).map((hundredths) => hundredths / 100);
const days = fc.integer({ min: 1, max: 60 });
const signal = fc.oneof(
  fc.record({ kind: fc.constant('attribute'), axis, on, points, when: condition }),
  fc.record({
    kind: fc.constant('activity'),
    axis,
    on,
    points,
    activity: fc.constantFrom('mail_clicked', 'call_taken', 'never_seen'),
    having: fc.constantFrom([], HAVING),
    times: fc.constantFrom('each', 'first'),
    window: option(days),
    most: option(fc.integer({ min: 1, max: 3 })),
    fade: option(fc.record({ kind: fc.constantFrom('half-life', 'end'), days })),
    cap: option(fc.integer({ min: 1, max: 40 })),
  }),
  fc.record({
    kind: fc.constant('silence'),
    axis,
    on,
    points,
    every: days,
    most: option(fc.integer({ min: 1, max: 3 })),
  }),
);

const axisBounds = fc.record({
  least: fc.constantFrom(-100, 0, 0.5),
  most: fc.constantFrom(40, 100),
  decimals: fc.nat(2),
});
type Bounds = { least: number; most: number; decimals: number };
const cuts = (count: number, { least, most }: Bounds) =>
  fc
    .uniqueArray(fc.integer({ min: Math.max(-30, Math.ceil(least)), max: Math.min(60, most) }), {
      minLength: count,
      maxLength: count,
    })
    .map((list) => list.sort((a, b) => a - b));
const gridWithin = (fitBounds: Bounds, engagementBounds: Bounds) =>
  fc
    .tuple(
      cuts(2, fitBounds),
      cuts(1, engagementBounds),
      fc.array(fc.constantFrom(...VERDICT_KEYS), { minLength: 6, maxLength: 6 }),
    )
    .map(([fit, engagement, v]) => ({
      fit: {
        bands: [
          { key: 'c', name: 'C' },
          { key: 'b', name: 'B' },
          { key: 'a', name: 'A' },
        ],
        cuts: fit,
      },
      engagement: {
        bands: [
          { key: 'quiet', name: 'quiet' },
          { key: 'active', name: 'active' },
        ],
        cuts: engagement,
      },
      cells: [v.slice(0, 2), v.slice(2, 4), v.slice(4)],
    }));
/** Other outcomes of a gate that asks; which is picked can always be judged. */
const alternatives = fc.uniqueArray(
  fc.record({
    to: fc.constantFrom(...STAGES),
    when: fc
      .constantFrom('words', 'size', 'worth', 'tags')
      .map((field): Condition => ({ test: 'blank', subject: { kind: 'field', field } })),
  }),
  { minLength: 1, maxLength: 2, selector: ({ to }) => to },
);
const gate = fc
  .record({
    ...{ from: fc.constantFrom(...STAGES), to: fc.constantFrom(...STAGES), on, when: mixed(computed) },
    requiredFields: fc.uniqueArray(fc.constantFrom('words', 'size', 'trade', 'company.size'), { maxLength: 2 }),
    time: fc.constantFrom({}, {}, {}, { minDays: 1 }, { minDays: 30 }, { minHours: 2 }, { minHours: 700 }),
    effects: fc.uniqueArray(effect, { maxLength: 2, selector: (one) => ('field' in one ? one.field : one) }),
    decider: fc.oneof(
      fc.constantFrom({ kind: 'rule' }, { kind: 'rule' }, { kind: 'asks' }, { kind: 'person' }),
      alternatives.map((some) => ({ kind: 'asks', alternatives: some })),
    ),
  })
  .map(({ time, ...one }) => ({ ...one, ...time }))
  .filter(({ from, to }) => from !== to)
  // An outcome leads elsewhere than the gate, and than the other ones.
  .map(({ decider, ...one }) => ({
    ...one,
    decider:
      'alternatives' in decider
        ? { ...decider, alternatives: decider.alternatives.filter(({ to }) => to !== one.from && to !== one.to) }
        : decider,
  }));
function keyed<T extends object>(prefix: string, list: readonly T[]): (T & { key: string; name: string })[] {
  return list.map((one, i) => ({ ...one, key: `${prefix}${i}`, name: `${prefix} ${i}` }));
}

const [, DEALS] = SMALL_CHARTER.pipelines;
const ALWAYS: Condition = { test: 'all', of: [] };

/** A score set with its entry condition, still without keys. */
const scoreSet = fc.tuple(axisBounds, axisBounds).chain(([fit, engagement]) =>
  fc.record({
    on,
    when: fc.oneof(fc.constant(ALWAYS), condition),
    fit: fc.constant(fit),
    engagement: fc.constant(engagement),
    signals: fc.array(fc.tuple(signal, option(fc.nat(1))), { maxLength: 7 }),
    caps: fc.tuple(fc.integer({ min: 1, max: 50 }), fc.integer({ min: 1, max: 50 })),
    grid: gridWithin(fit, engagement),
  }),
);
/** Mostly one that admits all; several whose entry conditions overlap, leave some out, or can't be judged. */
const scoreSets = fc.oneof(
  scoreSet.map((set) => [{ ...set, on: true, when: ALWAYS }]),
  fc.array(scoreSet, { minLength: 1, maxLength: 3 }),
);

/** Any charter over FIELDS: signals of every kind in and out of groups, gates that loop, streams that overlap. */
export const charter: fc.Arbitrary<ReadyCharter> = fc
  .record({
    sets: scoreSets,
    gates: fc.array(gate, { maxLength: 6 }),
    streams: fc.array(stream, { maxLength: 3 }),
    base: fc.constantFrom('EUR', 'EUR', 'NOK'),
    entry: fc.constantFrom('new', 'new', 'warm'),
    // A stage that closes: the last, or by another drawing the one before it.
    closing: fc.constantFrom('out', 'out', 'qualified'),
    // Stages from here on are of a second pipeline; that a stage was merged into one of them.
    split: fc.nat(STAGES.length - 1),
    merged: fc.constantFrom(...STAGES),
    covered: fc.tuple(fc.subarray(['NO', 'DE', 'US']), fc.subarray(['SE', 'FI'])),
  })
  .map(({ sets, gates, streams, covered, base, entry, closing, split, merged }) => {
    let routes = 0;
    const stages = STAGES.map((key) => ({
      ...{ key, name: key, kind: key === closing ? 'out' : 'open' },
      mergedFrom: key === merged ? ['once'] : [],
    }));
    const second = stages.slice(split);
    const isSplit = split > 0 && second.some(({ kind }) => kind === 'open');
    const first = isSplit ? stages.slice(0, split) : stages;
    const pipeline = (key: string, own: typeof stages) => ({
      ...{ key, name: key, of: 'lead', stages: own },
      entry:
        own.find((one) => one.key === entry && one.kind === 'open')?.key ??
        own.find(({ kind }) => kind === 'open')?.key,
    });
    return readyCharter(
      {
        ...SMALL_CHARTER,
        baseCurrency: base,
        pipelines: [pipeline('leads', first), ...(isSplit ? [pipeline('more', second)] : []), DEALS],
        // The one that some conditions name is the last: mostly another grades, and it scores beside.
        scoreSets: keyed('set', sets)
          .reverse()
          .map(({ signals, caps, ...set }) => ({
            ...set,
            groups: ['fit', 'engagement'].flatMap((of) =>
              caps.map((cap, i) => ({ key: `${set.key}-${of}-${i}`, name: `${of} ${i}`, axis: of, cap })),
            ),
            signals: keyed(
              `${set.key}-s`,
              signals.map(([one, group]) => ({
                ...one,
                group: group === null ? null : `${set.key}-${one.axis}-${group}`,
              })),
            ),
          })),
        gates: keyed(
          'g',
          gates.filter(({ from }) => from !== closing),
        ),
        territories: {
          field: 'land',
          // The second lies inside the first.
          list: TERRITORIES.map((key, i) => ({
            key,
            name: key,
            parent: i === 0 ? null : TERRITORIES[0],
            countries: covered[i] ?? [],
          })),
        },
        streams: keyed('st', streams).map((one) => ({
          ...one,
          routes: one.routes.map((r) => ({ ...r, key: `r${(routes += 1)}`, name: 'r' })),
        })),
      },
      WORLD,
    );
  });

/** A charter that judges all alike and whose streams take them all: many are routed, and many wait. */
export const busyCharter = charter.map((ready): ReadyCharter => {
  const everywhere = { on: true, entering: stagesOf(ready.charter, 'lead').map((stage) => stage.key) };
  const { lead } = ready.rules;
  const streams = lead.streams.map((stream) => ({
    ...stream,
    ...everywhere,
    when: ALWAYS,
    ready: { kind: 'all', of: [] } as const,
  }));
  const sets = lead.scoreSets.map((set) => ({
    ...set,
    on: true,
    when: ALWAYS,
    ready: { kind: 'all', of: [] } as const,
    signals: [],
  }));
  const rules = { ...ready.rules, lead: { ...lead, streams, scoreSets: sets, gates: [] } };
  return { ...ready, rules, charter: { ...ready.charter, streams, gates: [] } };
});
