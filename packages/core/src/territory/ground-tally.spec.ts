import fc from 'fast-check';
import type { TerritoryKey } from '../record/keys';
import { coverageOf } from './coverage';
import { claimOnGround, type GroundCount, movesBetween, openGroundIn, tallyBy, tallyGrounds } from './ground-tally';
import { coloursOf, type Drawn, TERRITORY_COLOURS, territoryTree } from './territory';

const drawn = (key: string, covers: Partial<Drawn>): Drawn => ({
  ...{ key: key as TerritoryKey, parent: null, countries: [], regions: [], postalCodes: [], ...covers },
});
const count = (country: string, region: string | null, territory: string | null, leads: number): GroundCount => ({
  ...{
    country,
    region,
    territory: territory as TerritoryKey | null,
    leads,
    open: leads,
    won: 0,
    closed: 0,
    value: 100 * leads,
  },
});
const COUNTS = [
  count('US', 'US-CA', 'pacific', 5),
  count('US', 'US-TX', null, 3),
  count('US', null, null, 2),
  count('NO', null, 'north', 7),
  count('FR', 'FR-75', null, 4),
];
const coverage = coverageOf([drawn('pacific', { regions: ['US-CA'] }), drawn('north', { countries: ['NO'] })]);

test('leads count for their country, and for their region', () => {
  const tallies = tallyGrounds(COUNTS);
  expect([tallies.get('US')?.leads, tallies.get('US-CA')?.leads, tallies.get('NO')?.leads]).toEqual([10, 5, 7]);
  expect(tallyBy(COUNTS, ({ territory }) => territory).get('pacific')?.leads).toBe(5);
});

test('open ground is told by region where territories cover regions of its country, else by country; most leads first', () => {
  expect(openGroundIn(COUNTS, coverage).map(({ code, leads }) => [code, leads])).toEqual([
    ['FR', 4],
    ['US-TX', 3],
    ['US', 2],
  ]);
});

test('what a draft covers is no open ground any more', () => {
  const wider = coverageOf([drawn('all', { countries: ['US'] }), drawn('north', { countries: ['NO'] })]);
  expect(openGroundIn(COUNTS, wider).map(({ code }) => code)).toEqual(['FR']);
});

test('the claim on a region is its own, else that on its country', () => {
  const both = coverageOf([drawn('states', { countries: ['US'] }), drawn('pacific', { regions: ['US-CA'] })]);
  expect(['US-CA', 'US-TX', 'US', 'NO'].map((code) => claimOnGround(both, code)?.keys[0] ?? null)).toEqual([
    'pacific',
    'states',
    'states',
    null,
  ]);
});

test('territories have the colour that was chosen, else one after the other', () => {
  const keys = TERRITORY_COLOURS.map((_, i) => ({ key: `t${i}` as TerritoryKey, colour: null }));
  const colours = coloursOf([{ key: 'own' as TerritoryKey, colour: 'plum' }, ...keys]);
  expect(colours.get('own' as TerritoryKey)).toBe('plum');
  expect([colours.get('t0' as TerritoryKey), colours.get('t9' as TerritoryKey)]).toEqual([
    TERRITORY_COLOURS[1],
    TERRITORY_COLOURS[0],
  ]);
});

test('a country that is given away takes along its leads, but not those in regions of others, of postal codes or pinned', () => {
  const list = [drawn('states', { countries: ['US'] }), drawn('pacific', { regions: ['US-CA'] })];
  const before = coverageOf(list);
  const after = coverageOf([drawn('pacific', { regions: ['US-CA'] }), drawn('north', { countries: ['US', 'NO'] })]);
  const counts = [
    count('US', 'US-CA', 'pacific', 5),
    count('US', 'US-TX', 'states', 3),
    count('US', 'US-TX', 'pinned-elsewhere', 9),
    count('US', null, 'states', 2),
  ];
  expect(movesBetween(counts, before, before, after)).toEqual([
    { territory: 'states', leads: -5, open: -5, value: -500 },
    { territory: 'north', leads: 5, open: 5, value: 500 },
  ]);
  // To or from open ground.
  expect(movesBetween(counts, before, before, coverageOf([])).at(-1)).toEqual({
    ...{ territory: '', leads: 10, open: 10, value: 1000 },
  });
});

test('the moves between two drawings are the differences of what each territory has in them', () => {
  const some = fc
    .array(fc.record({ countries: fc.subarray(['US', 'NO']), regions: fc.subarray(['US-CA', 'US-TX', 'NO-46']) }), {
      maxLength: 3,
    })
    .map((list) => coverageOf(list.map((covers, i) => drawn(`t${i}`, covers))));
  const places = fc.array(fc.constantFrom('US', 'NO', 'US-CA', 'US-TX', 'NO-46', 'NO-03'), { maxLength: 12 });
  fc.assert(
    fc.property(some, some, places, (before, after, codes) => {
      const has = (coverage: typeof before, code: string): string => claimOnGround(coverage, code)?.keys[0] ?? '';
      const counts = codes.map((code) => {
        const region = code.includes('-') ? code : null;
        return count(code.slice(0, 2), region, has(before, code) || null, 1);
      });
      const difference = new Map<string, number>();
      for (const code of codes) {
        const [from, to] = [has(before, code), has(after, code)];
        difference.set(from, (difference.get(from) ?? 0) - 1);
        difference.set(to, (difference.get(to) ?? 0) + 1);
      }
      const moved = new Map<string, number>();
      for (const { territory, leads } of movesBetween(counts, before, before, after))
        moved.set(territory, (moved.get(territory) ?? 0) + leads);
      for (const key of new Set([...difference.keys(), ...moved.keys()]))
        expect(moved.get(key) ?? 0).toBe(difference.get(key) ?? 0);
    }),
  );
});

test('a tree has each territory followed by those inside it; a circle of parents is left out', () => {
  const one = (key: string, parent: string | null) => ({
    key: key as TerritoryKey,
    parent: parent as TerritoryKey | null,
  });
  const list = [one('b', null), one('a1', 'a'), one('a', null), one('a11', 'a1'), one('x', 'y'), one('y', 'x')];
  expect(territoryTree(list).map(({ territory, depth }) => `${territory.key} ${depth}`)).toEqual([
    'b 0',
    'a 0',
    'a1 1',
    'a11 2',
  ]);
});
