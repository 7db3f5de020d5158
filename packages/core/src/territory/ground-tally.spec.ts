import type { TerritoryKey } from '../record/keys';
import { coverageOf } from './coverage';
import { claimOnGround, type GroundCount, openGroundIn, tallyBy, tallyGrounds } from './ground-tally';
import { coloursOf, type Drawn, TERRITORY_COLOURS } from './territory';

const drawn = (key: string, covers: Partial<Drawn>): Drawn => ({
  ...{ key: key as TerritoryKey, parent: null, countries: [], regions: [], postalCodes: [], ...covers },
});
const count = (country: string, region: string | null, territory: string | null, leads: number): GroundCount => ({
  ...{ country, region, territory: territory as TerritoryKey | null, leads, open: leads, won: 0, closed: 0 },
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
