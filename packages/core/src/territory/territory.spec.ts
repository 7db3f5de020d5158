import { COUNTRY_BY_FOLDED_NAME } from '../record/country';
import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import { BLANK, readValue } from '../record/value';
import { coverageOf, territoryOf } from './coverage';
import { depthOf, insideOf, type Territory } from './territory';

const territory = (key: string, parent: string | null, ...countries: string[]): Territory => ({
  key: key as TerritoryKey,
  name: key,
  parent: parent as TerritoryKey | null,
  countries,
});
const codeOf = (country: string) => COUNTRY_BY_FOLDED_NAME.get(fold(country));
const country = (written: string) =>
  readValue({ key: 'country', name: 'Country', type: 'country', options: [], retired: false }, written, '2026-01-01');

const WEST = territory('west', 'nordics', 'Norway', 'IS');
const NORDICS = territory('nordics', null, 'SWE', 'DK', 'NO');
const coverage = coverageOf([NORDICS, WEST, territory('b', null, 'DE'), territory('a', null, 'Germany')], codeOf);
const at = (written: string, pin: string | null = null) =>
  territoryOf(coverage, pin as TerritoryKey | null, country(written));

test.each([
  ['Sweden', { found: 'covered', territory: 'nordics' }],
  ['sverige', { found: 'unjudged', raw: 'sverige' }],
  ['ISL', { found: 'covered', territory: 'west' }],
  ['Malta', { found: 'open-ground' }],
  ['', { found: 'no-address' }],
])('%s lies in %j', (written, answer) => {
  expect(at(written)).toEqual(answer);
});

test('a territory inside another counts before it; of two equals the smaller key does', () => {
  expect(at('NO')).toEqual({ found: 'covered', territory: 'west' });
  expect(at('DE')).toEqual({ found: 'covered', territory: 'a' });
  expect(coverage.get(fold('NO'))).toEqual(['west', 'nordics']);
  expect(coverage.get(fold('DE'))).toEqual(['a', 'b']);
});

test('a pin beats every address', () => {
  for (const written of ['NO', 'Malta', 'sverige', ''])
    expect(at(written, 'b')).toEqual({ found: 'pinned', territory: 'b' });
});

test('a country claimed twice by one territory is claimed once; one that does not exist by none', () => {
  const twice = coverageOf([territory('x', null, 'NO', 'Norway', 'Atlantis')], codeOf);
  expect([...twice]).toEqual([[fold('NO'), ['x']]]);
  expect(territoryOf(twice, null, BLANK)).toEqual({ found: 'no-address' });
});

test('depth counts the territories around one, and a circle of parents comes to an end', () => {
  const list = [NORDICS, WEST, territory('fjord', 'west'), territory('p', 'q'), territory('q', 'p')];
  const byKey = new Map(list.map((one) => [one.key, one]));
  expect(['nordics', 'west', 'fjord', 'p'].map((key) => depthOf(key as TerritoryKey, byKey))).toEqual([0, 1, 2, 2]);
});

test('inside a territory lie those below it at any depth, and itself', () => {
  const of = (key: string, parent: string | null) => territory(key, parent);
  const inside = insideOf([of('north', null), of('nordics', 'north'), of('fjord', 'nordics'), of('south', null)]);
  expect(Object.fromEntries(inside)).toEqual({
    north: ['north', 'nordics', 'fjord'],
    nordics: ['nordics', 'fjord'],
    fjord: ['fjord'],
    south: ['south'],
  });
  // A circle ends where it began.
  expect(insideOf([of('a', 'b'), of('b', 'a')]).get('a')).toEqual(['a', 'b']);
});
