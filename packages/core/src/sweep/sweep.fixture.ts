import { stagesOf } from '../gate/pipeline';
import fc from 'fast-check';
import type { ReadyCharter } from '../charter/ready-charter';
import { readyCharter, SMALL_CHARTER, smallWorld, standing } from '../charter/charter.fixture';
import type { Condition } from '../condition/condition';
import { condition, FIELDS, HAVING, rawRecord } from '../condition/conditions.fixture';
import type { ScoreAxis, Subject } from '../condition/subject';
import { VERDICT_KEYS } from '../grade/verdict';
import { JUST_IN, type Look, type MovingRecord, WAYS } from '../record/record';
import type { Place } from '../record/place';
import { readValue, type Value } from '../record/value';
import { Rates } from '../record/money';
import { happeningKey } from '../activity/property-test';
import type { World } from '../people/world';
import { encodeHappening, encodePopulation, type PopulationRecord } from './encode';
import type { Population } from './population';

const DAY = 86_400_000;
export const AS_OF = Date.parse('2026-02-28T12:00:00Z');
const STAGES = ['new', 'warm', 'qualified', 'out'];
const TERRITORIES = ['north', 'south'];

export const RATES = new Rates([{ currency: 'NOK', from: '2026-01-01', micro: 85_000 }], 'EUR');
export const WORLD: World = {
  ...smallWorld(({ teams }) => (teams as object[]).push({ key: 'south', name: 'Team south', members: ['bo'] })),
  fields: FIELDS,
  rates: RATES,
};

const score = (axis: ScoreAxis): fc.Arbitrary<Condition> =>
  fc.tuple(fc.integer({ min: -20, max: 60 }), fc.boolean(), fc.boolean()).map(([at, included, lower]) => {
    const end = { at: String(at), included };
    return { test: 'range', subject: { kind: 'score', axis }, from: lower ? end : null, to: lower ? null : end };
  });
const oneOf = (subject: Subject, values: readonly string[]): fc.Arbitrary<Condition & { test: 'one-of' }> =>
  fc.subarray([...values], { minLength: 1 }).map((some) => ({ test: 'one-of', subject, values: some }));

const stageDays = fc
  .tuple(fc.constantFrom('0', '1', '3', '30'), fc.boolean(), fc.boolean())
  .map(([at, included, lower]): Condition => {
    const end = { at, included };
    return { test: 'range', subject: { kind: 'days-in-stage' }, from: lower ? end : null, to: lower ? null : end };
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
const option = <T>(one: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(one);
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
const gate = fc
  .record({ from: fc.constantFrom(...STAGES), to: fc.constantFrom(...STAGES), on, when: mixed(computed) })
  .filter(({ from, to }) => from !== to);
const destination = fc.constantFrom(
  { kind: 'rep', rep: 'ada' },
  { kind: 'rep', rep: 'bo' },
  { kind: 'team', team: 'north' },
  { kind: 'queue', queue: 'projects' },
);
const route = fc.record({ on, when: mixed(inRoutes), to: destination });
const stream = fc.record({
  on,
  entering: fc.subarray(STAGES, { minLength: 1 }),
  when: fc.oneof(fc.constant<Condition>({ test: 'all', of: [] }), mixed(inRoutes)),
  routes: fc.array(route, { maxLength: 5 }),
});

function keyed<T extends object>(prefix: string, list: readonly T[]): (T & { key: string; name: string })[] {
  return list.map((one, i) => ({ ...one, key: `${prefix}${i}`, name: `${prefix} ${i}` }));
}

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
    covered: fc.tuple(fc.subarray(['NO', 'DE', 'US']), fc.subarray(['SE', 'FI'])),
  })
  .map(({ sets, gates, streams, covered, base, entry, closing }) => {
    let routes = 0;
    return readyCharter(
      {
        ...SMALL_CHARTER,
        baseCurrency: base,
        pipelines: [
          {
            key: 'leads',
            name: 'Leads',
            of: 'lead',
            stages: STAGES.map((key) => ({ key, name: key, kind: key === closing ? 'out' : 'open' })),
            entry,
          },
        ],
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

const place = fc.constantFrom<Place>(
  { kind: 'owner', rep: 'ada' as never },
  { kind: 'queue', queue: 'projects' as never },
  { kind: 'bay', reason: { why: 'nobody-free', route: 'r1' as never, rep: 'ada' as never, team: null } },
  { kind: 'not-handed-over', verdict: null },
);

/** A row of a population whose record moves through stages. */
export type MovingRow = PopulationRecord<MovingRecord>;

/** Any record over FIELDS, as it is stored. */
export const records: fc.Arbitrary<MovingRow[]> = fc
  .array(
    fc.record({
      raw: rawRecord,
      arrived: fc.integer({ min: -1, max: 90 }),
      stage: fc.constantFrom(...STAGES),
      status: fc.constantFrom('open', 'open', 'won'),
      since: option(fc.integer({ min: 0, max: 60 * 24 })),
      way: fc.constantFrom(...WAYS, null),
      place,
      pin: option(fc.constantFrom(...TERRITORIES)),
      activities: fc.array(
        fc.tuple(
          fc.constantFrom('mail_clicked', 'call_taken', 'mail_sent'),
          fc.integer({ min: -60, max: 70 * 24 * 60 }),
          fc.constantFrom<Readonly<Record<string, string>>>({}, { page: '/pricing' }, { page: '/about', link: 'demo' }),
        ),
        { maxLength: 5 },
      ),
      looks: fc
        .subarray(['g0', 'g1', 'g2'])
        .chain((gates) =>
          fc.tuple(...gates.map((gate) => fc.tuple(fc.constant(gate), fc.constantFrom<Look>('true', 'true', 'held')))),
        ),
      worked: fc.integer({ min: 0, max: 30 }),
    }),
    { minLength: 1, maxLength: 75, size: 'max' },
  )
  .map((list) =>
    list.map(
      ({ raw, arrived, stage, since, way, status, pin, activities, looks, worked, place: stands }, i): MovingRow => {
        const at = AS_OF - arrived * DAY;
        const record: MovingRecord = {
          id: String(i + 1),
          kind: 'lead',
          arrived: at,
          way,
          standing: {
            status: status,
            stage: stage as never,
            stageSince: since === null ? null : AS_OF - since * 3_600_000,
            place: stands,
            pin: pin as never,
            looks: new Map(looks),
          },
          values: new Map(
            [...FIELDS].map(([key, field]): [string, Value] => [key, readValue(field, raw[key] ?? null, '2026-03-01')]),
          ),
          activities: activities.map(([kind, minutes, properties]) => ({
            kind,
            at: AS_OF - minutes * 60_000,
            properties,
          })),
        };
        return { record, closed: status === 'open' ? null : at + worked * DAY, touched: at };
      },
    ),
  );

/** The same records, with looks of the gates of a charter: of those in their places. */
export function lookingAt({ rules }: ReadyCharter, list: readonly MovingRow[]): MovingRow[] {
  return list.map((one) => {
    const looks = [...one.record.standing.looks].flatMap(([key, look]): [string, Look][] => {
      const gate = rules.lead.gates[Number(key.slice(1))];
      return gate === undefined ? [] : [[gate.look, look]];
    });
    return { ...one, record: standing(one.record, { looks: new Map(looks) }) };
  });
}

/** A charter that judges all alike and whose streams take them all: many are routed, and many wait. */
export const busyCharter = charter.map((ready): ReadyCharter => {
  const everywhere = { on: true, entering: stagesOf(ready.charter).map((stage) => stage.key) };
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

/** Records by columns, with the activities that some signals ask for by their properties. */
export function populationOf(list: readonly PopulationRecord[]): Population {
  const population = encodePopulation(list, FIELDS);
  for (const kind of ['mail_clicked', 'call_taken', 'mail_sent'])
    population.events.set(happeningKey(kind, HAVING), encodeHappening(list, kind, HAVING));
  return population;
}

/** A record as if it had just come in; its territory stays pinned. */
export const asNew = (record: MovingRecord): MovingRecord => standing(record, { ...JUST_IN, pin: record.standing.pin });
