import { stagesOf } from '../gate/pipeline';
import fc from 'fast-check';
import type { ReadyCharter } from '../charter/ready-charter';
import { readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import type { Condition } from '../condition/condition';
import { ALL_FIELDS, condition as ownCondition, HAVING, tiedTest } from '../condition/conditions.fixture';
import type { ScoreAxis, Subject } from '../condition/subject';
import { VERDICT_KEYS } from '../grade/verdict';
import { Rates } from '../record/money';
import type { World } from '../people/world';
import { METHODS } from '../method/method';
import { AGAIN_WHEN } from '../route/again';

import { effect } from './effect.fixture';

export const AS_OF = Date.parse('2026-02-28T12:00:00Z');
export const STAGES = ['new', 'warm', 'qualified', 'out'];
export const TERRITORIES = ['north', 'south'];

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

/** A condition over the fields of a lead, now and then across a tie. */
const condition = fc.oneof({ arbitrary: ownCondition, weight: 4 }, { arbitrary: tiedTest, weight: 1 });

const score = (axis: ScoreAxis): fc.Arbitrary<Condition> =>
  fc.tuple(fc.integer({ min: -20, max: 60 }), fc.boolean(), fc.boolean()).map(([at, included, lower]) => {
    const end = { at: String(at), included };
    return { test: 'range', subject: { kind: 'score', axis }, from: lower ? end : null, to: lower ? null : end };
  });
const oneOf = (subject: Subject, values: readonly string[]): fc.Arbitrary<Condition & { test: 'one-of' }> =>
  fc.subarray([...values], { minLength: 1 }).map((some) => ({ test: 'one-of', subject, values: some }));

const stageDays = fc
  .tuple(
    ...([fc.constantFrom('0', '1', '3', '30'), fc.boolean(), fc.boolean()] as const),
    fc.constantFrom('days-in-stage', 'hours-in-stage'),
  )
  .map(([at, included, lower, kind]): Condition => {
    const end = { at, included };
    return { test: 'range', subject: { kind }, from: lower ? end : null, to: lower ? null : end };
  });

const computed = fc.oneof(
  oneOf({ kind: 'verdict' }, VERDICT_KEYS),
  oneOf({ kind: 'band', axis: 'fit' }, ['c', 'b', 'a']),
  oneOf({ kind: 'band', axis: 'engagement' }, ['quiet', 'active']),
  oneOf({ kind: 'stage' }, STAGES),
  score('fit'),
  stageDays,
  fc
    .tuple(score('fit'), fc.constant('set0'), fc.constantFrom('fit', 'engagement', 'rank'))
    .map(([one, set, axis]): Condition => ({ ...one, subject: { kind: 'set-score', set, axis } }) as Condition),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'set-score', set: 'set0', axis: 'fit' } }),
  oneOf({ kind: 'owner' }, ['ada', 'bo']),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'owner' } }),
  fc
    .tuple(fc.constantFrom('any-of', 'all-of'), fc.subarray(['north', 'south'], { minLength: 1 }))
    .map(([test, values]): Condition => ({ test, subject: { kind: 'team' }, values })),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'team' } }),
  score('engagement'),
  score('rank'),
  fc
    .constantFrom<Subject>({ kind: 'verdict' }, { kind: 'score', axis: 'rank' })
    .map((subject): Condition => ({ test: 'blank', subject })),
);
const inRoutes = fc.oneof(
  computed,
  oneOf({ kind: 'territory' }, TERRITORIES),
  oneOf({ kind: 'territory' }, TERRITORIES).map((one): Condition => ({ ...one, test: 'inside' })),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'territory' } }),
);
/** A condition that reads fields, and what the way computed before it. */
const mixed = (leaf: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
  fc.oneof(
    leaf,
    condition,
    fc
      .tuple(fc.constantFrom('all', 'any'), fc.array(fc.oneof(leaf, condition), { maxLength: 3 }))
      .map(([test, of]): Condition => ({ test, of })),
    fc.oneof(leaf, condition).map((of): Condition => ({ test: 'not', of })),
  );

const axis = fc.constantFrom('fit', 'engagement');
const points = fc.integer({ min: -3000, max: 3000 }).map((hundredths) => hundredths / 100);
const days = fc.integer({ min: 1, max: 60 });
export const option = <T>(one: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(one);
const on = fc.boolean().map((off) => !off);
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
const destination = fc.constantFrom(
  { kind: 'rep', rep: 'ada' },
  { kind: 'rep', rep: 'bo' },
  { kind: 'reps', reps: ['eli', 'ada', 'dee'] },
  { kind: 'team', team: 'north' },
  { kind: 'team', team: 'south' },
  { kind: 'team', team: 'north', inside: true },
  { kind: 'queue', queue: 'projects' },
  { kind: 'nobody', reason: 'a competitor' },
);
const OWNER = { arbitrary: fc.constant({ kind: 'company-owner' }), weight: 1 };
const nobodyFree = fc.oneof(
  fc.constantFrom({ kind: 'wait' }, { kind: 'next-route' }, { kind: 'next-route' }, { kind: 'ignore-limits' }),
  destination.map((to) => ({ kind: 'elsewhere', to })),
);
const skills = fc.subarray([
  { skill: 'trades', field: 'trade' },
  { skill: 'trades', field: 'likes' },
]);
const route = fc
  .record(
    {
      ...{ on, when: mixed(inRoutes), to: fc.oneof({ arbitrary: destination, weight: 6 }, OWNER), skills },
      method: fc.constantFrom(...METHODS),
      respects: fc.record({ hours: fc.boolean(), limit: fc.boolean() }),
      nobodyFree: option(nobodyFree),
    },
    { requiredKeys: ['on', 'when', 'to'] },
  )
  .map((one) => (one.skills !== undefined && one.skills.length > 1 ? { ...one, to: { kind: 'skilled' } } : one));
const stream = fc.record({
  on,
  entering: fc.subarray(STAGES, { minLength: 1 }),
  when: fc.oneof(fc.constant<Condition>({ test: 'all', of: [] }), mixed(inRoutes)),
  ...{ nobodyFree, routes: fc.array(route, { maxLength: 5 }), again: fc.subarray([...AGAIN_WHEN]) },
});

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
