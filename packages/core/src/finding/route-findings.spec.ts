import fc from 'fast-check';
import type { Charter } from '../charter/charter';
import { SMALL_CHARTER, smallCharter, smallWorld } from '../charter/charter.fixture';
import { readableIn } from '../charter/ready-charter';
import { bindCondition } from '../condition/bind-condition';
import type { Condition } from '../condition/condition';
import { NO_FACTS } from '../condition/facts';
import { judge } from '../condition/judge';
import type { Subject } from '../condition/subject';
import { Spot } from '../document/problem';
import { namesOf } from '../charter/charter-names';
import { BLANK, readValue } from '../record/value';
import type { RouteFinding } from './finding';
import { findingWords } from './finding-words';
import { routeFindings } from './route-findings';

const world = smallWorld();
const field = (key: string): Subject => ({ kind: 'field', field: key });
const employees = (from: [number, boolean] | null, to: [number, boolean] | null): Condition => ({
  test: 'range',
  subject: field('employees'),
  from: from && { at: String(from[0]), included: from[1] },
  to: to && { at: String(to[0]), included: to[1] },
});
const industry = (...values: string[]): Condition => ({ test: 'one-of', subject: field('industry'), values });

function charterWith(whens: readonly Condition[], entry: Condition = { test: 'all', of: [] }): Charter {
  const [stream] = SMALL_CHARTER.streams;
  return smallCharter(world, (json) =>
    Object.assign(json, {
      streams: [
        {
          ...stream,
          when: entry,
          routes: whens.map((when, i) => ({
            ...stream!.routes[0]!,
            key: `r${i}`,
            name: `Route ${i}`,
            when,
          })),
        },
      ],
    }),
  ).charter;
}
const found = (whens: readonly Condition[], entry?: Condition): readonly RouteFinding[] =>
  routeFindings(charterWith(whens, entry), world);
const said = (whens: readonly Condition[]): string[] => {
  const charter = charterWith(whens);
  const wording = { names: namesOf(charter, world), fields: world.fields, baseCurrency: 'EUR' };
  return routeFindings(charter, world).map((finding) => findingWords(finding, wording));
};

test('a broad route above a narrow one swallows it', () => {
  expect(
    said([industry('Brewery', 'Fish farm'), { test: 'all', of: [industry('Brewery'), employees([50, true], null)] }]),
  ).toEqual(['Never reached: Route 0 takes all that it would']);
});

test('two routes together swallow a third, and a condition that never holds is told', () => {
  const whens = [
    employees(null, [50, false]),
    employees([50, true], null),
    { test: 'not', of: { test: 'blank', subject: field('employees') } } as const,
  ];
  expect(said(whens)).toEqual(['Never reached: the routes before it take all that it would']);
  expect(said([{ test: 'all', of: [industry('Brewery'), industry('Fish farm')] }])).toEqual(['No lead can match it']);
});

test('“over 12,000” and “under 12,000” leave out 12,000 itself, and a record proves it', () => {
  const value = (from: boolean): Condition => {
    const end = { at: '12000', included: false };
    return { test: 'range', subject: field('deal_value'), from: from ? end : null, to: from ? null : end };
  };
  expect(said([value(true), value(false)])).toEqual([
    'Deal value exactly 12,000 EUR is taken neither by Route 1 nor by Route 0, and goes to the last resort',
  ]);
  expect(found([value(true), value(false)])).toMatchObject([
    { code: 'gap-between-numbers', witness: [{ subject: field('deal_value'), value: '12000 EUR' }] },
  ]);
});

test('one route that leaves out a middle means to, and what can’t be told is not told', () => {
  expect(found([{ test: 'any', of: [employees(null, [10, false]), employees([20, true], null)] }])).toEqual([]);
  const fit = (from: number | null, to: number | null): Condition => ({
    test: 'range',
    subject: { kind: 'score', axis: 'fit' },
    from: from === null ? null : { at: String(from), included: true },
    to: to === null ? null : { at: String(to), included: true },
  });
  // Scores are whole: nothing lies between.
  expect(found([fit(null, 40), fit(41, null)])).toEqual([]);
});

// Brute force over small domains: every value that the conditions can tell apart.
const NUMBERS = ['', '1', '2', '3', '4', '5', '6', '7'].concat(['1.5', '2.5', '3.5', '4.5', '5.5', '6.5']);
const TRADES = ['', ...(world.fields.get('industry')?.options ?? [])];

const leaf: fc.Arbitrary<Condition> = fc.oneof(
  fc
    .tuple(
      fc.integer({ min: 2, max: 6 }),
      fc.integer({ min: 2, max: 6 }),
      fc.boolean(),
      fc.boolean(),
      fc.constantFrom('from', 'to', 'both'),
    )
    .map(([a, b, fromIn, toIn, which]) =>
      employees(
        which === 'to' ? null : [Math.min(a, b), a === b || fromIn],
        which === 'from' ? null : [Math.max(a, b), a === b || toIn],
      ),
    ),
  fc.subarray(TRADES.slice(1), { minLength: 1 }).map((some) => industry(...some)),
  fc.constantFrom('employees', 'industry').map((key): Condition => ({ test: 'blank', subject: field(key) })),
);
const when = fc.oneof(
  leaf,
  fc
    .tuple(fc.constantFrom('all', 'any'), fc.array(leaf, { minLength: 1, maxLength: 3 }))
    .map(([test, of]): Condition => ({ test, of })),
  leaf.map((of): Condition => ({ test: 'not', of })),
);

test('over small domains what is found is right, and nothing is missed', () => {
  const seen = { swallowed: 0, never: 0, gaps: 0 };
  fc.assert(
    fc.property(
      fc.array(when, { minLength: 1, maxLength: 4 }),
      fc.oneof(fc.constant<Condition>({ test: 'all', of: [] }), leaf),
      (whens, entry) => {
        const charter = charterWith(whens, entry);
        const scope = readableIn(charter, world, 'route', 'lead');
        const [enters, ...routes] = [entry, ...whens].map((one) => bindCondition(one, scope, Spot.root([])));
        const holds = (condition: typeof enters, number: string, trade: string): boolean => {
          const raw: Record<string, string> = { employees: number, industry: trade };
          const value = (key: string) => {
            const known = world.fields.get(key);
            return known ? readValue(known, raw[key] ?? '', '2026-03-02') : BLANK;
          };
          return judge(condition!, { ...NO_FACTS, value }) === 'yes';
        };
        const taker = (number: string, trade: string): number | null => {
          if (!holds(enters, number, trade)) return null;
          const first = routes.findIndex((route) => holds(route, number, trade));
          return first < 0 ? null : first;
        };
        const reached = new Set(NUMBERS.flatMap((number) => TRADES.map((trade) => taker(number, trade))));
        const findings = routeFindings(charter, world);
        const never = findings.flatMap((one) => (one.code === 'route-never-reached' ? [one] : []));
        expect(never.map(({ route }) => route)).toEqual(whens.flatMap((_, i) => (reached.has(i) ? [] : [`r${i}`])));
        for (const { route, takenBy } of never) {
          const r = Number(route.slice(1));
          const own = NUMBERS.flatMap((number) => TRADES.map((trade) => [number, trade] as const)).filter(
            ([number, trade]) => holds(enters, number, trade) && holds(routes[r], number, trade),
          );
          if (takenBy === null) expect(own).toEqual([]);
          else if (takenBy !== 'several')
            expect(own.every(([number, trade]) => holds(routes[Number(takenBy.slice(1))], number, trade))).toBe(true);
          if (takenBy === null) seen.never += 1;
          else seen.swallowed += 1;
        }

        // Between two numbers taken by different routes, a stretch that no route takes though the record enters.
        const line = NUMBERS.slice(1).sort((a, b) => Number(a) - Number(b));
        const stretches = new Set<string>();
        for (const trade of TRADES)
          for (let first = 1; first < line.length - 1; first += 1)
            for (let last = first; last < line.length - 1; last += 1) {
              const gap = line.slice(first, last + 1);
              const [low, high] = [taker(line[first - 1]!, trade), taker(line[last + 1]!, trade)];
              if (low === null || high === null || low === high) continue;
              if (gap.every((number) => holds(enters, number, trade) && taker(number, trade) === null))
                stretches.add(`${first} ${last}`);
            }
        const told = findings.flatMap((one) => (one.code === 'gap-between-numbers' ? [one] : []));
        const inside = told.map(({ from, to }) => {
          const within = line.flatMap((number, i) =>
            Number(number) >= Number(from) && Number(number) <= Number(to) ? [i] : [],
          );
          return `${within[0]} ${within.at(-1)}`;
        });
        expect(new Set(inside)).toEqual(stretches);
        for (const { witness, below, above } of told) {
          const raw = Object.fromEntries(
            witness.map(({ subject, value }) => [subject.kind === 'field' ? subject.field : '', value]),
          );
          expect(taker(raw['employees'] ?? '', raw['industry'] ?? '')).toBeNull();
          expect(below).not.toBe(above);
        }
        seen.gaps += told.length;
      },
    ),
    { numRuns: 800 },
  );
  expect(Math.min(...Object.values(seen))).toBeGreaterThan(20);
});
