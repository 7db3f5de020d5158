import fc from 'fast-check';
import { countryCode } from '../record/country';
import type { TerritoryKey } from '../record/keys';
import { countryOfRegion, regionsAround } from '../record/region';
import { BLANK, readValue, type Value } from '../record/value';
import type { FieldType } from '../record/field';
import { type Address, claimAround, coverageOf, territoryOf } from './coverage';
import { aroundOf, depthOf, insideOf, type PostalCoverage, type Drawn } from './territory';

const territory = (key: string, parent: string | null, covers: Partial<Drawn> = {}): Drawn => ({
  ...{ key: key as TerritoryKey, parent: parent as TerritoryKey | null },
  ...{ countries: [], regions: [], postalCodes: [], ...covers },
});
const value = (type: FieldType, written: string, country: string | null = null): Value =>
  readValue({ key: 'x', name: 'X', type, options: [], retired: false }, written, '2026-01-01', country);
const address = (country: string, region = '', postalCode = ''): Address => {
  const code = countryCode(country) ?? null;
  return {
    country: value('country', country),
    region: value('region', region, code),
    postalCode: value('postal-code', postalCode, code),
  };
};
const codes = (country: string, from: string, to?: string): PostalCoverage =>
  to === undefined ? { kind: 'code', country, code: from } : { kind: 'range', country, from, to };
const prefix = (country: string, of: string): PostalCoverage => ({ kind: 'prefix', country, prefix: of });

const LIST = [
  territory('nordics', null, { countries: ['SWE', 'DK', 'NO'] }),
  territory('west', 'nordics', { countries: ['Norway', 'IS'] }),
  territory('b', null, { countries: ['DE'] }),
  territory('a', null, { countries: ['Germany'] }),
  territory('states', null, { countries: ['US'] }),
  territory('pacific', 'states', { regions: ['US-CA', 'US-OR'] }),
  territory('bay-area', null, {
    postalCodes: [prefix('US', '94'), codes('US', '94100', '94199'), codes('US', '94105')],
  }),
  territory('mission', null, { postalCodes: [codes('US', '94110', '94119')] }),
  territory('scotland', null, { regions: ['GB-SCT'], postalCodes: [prefix('GB', 'EH1')] }),
];
const coverage = coverageOf(LIST);
const at = (where: Address, pin: string | null = null) => territoryOf(coverage, pin as TerritoryKey | null, where);

test.each<[Address, object]>([
  [address('Sverige'), { found: 'covered', territory: 'nordics' }],
  [address('Swedenn'), { found: 'unjudged', raw: 'Swedenn' }],
  [address('ISL'), { found: 'covered', territory: 'west' }],
  [address('Malta'), { found: 'open-ground' }],
  [address(''), { found: 'no-address' }],
  // A territory inside another counts before it; of two equals the smaller key does.
  [address('NO'), { found: 'covered', territory: 'west' }],
  [address('DE'), { found: 'covered', territory: 'a' }],
  [address('US'), { found: 'covered', territory: 'states' }],
  [address('US', 'California'), { found: 'covered', territory: 'pacific', by: 'region' }],
  [address('US', 'ca', '94105-1234'), { found: 'covered', territory: 'bay-area', by: 'postalCode' }],
  // The narrower range before the wider one, a range before a prefix.
  [address('US', 'CA', '94112'), { found: 'covered', territory: 'mission', by: 'postalCode' }],
  [address('US', 'CA', '94999'), { found: 'covered', territory: 'bay-area', by: 'postalCode' }],
  [address('US', 'CA', '90001'), { found: 'covered', territory: 'pacific', by: 'region' }],
  [address('US', 'Texas', '75001'), { found: 'covered', territory: 'states' }],
  // A council of Scotland lies inside Scotland.
  [address('UK', 'Edinburgh'), { found: 'covered', territory: 'scotland', by: 'region' }],
  [address('UK', '', 'eh1 1yz'), { found: 'covered', territory: 'scotland', by: 'postalCode' }],
  [address('UK', '', 'EH21 6UU'), { found: 'open-ground' }],
  // What can't be read matters only where it is asked for.
  [address('US', 'Californication'), { found: 'unjudged', raw: 'Californication', part: 'region' }],
  [address('US', 'CA', 'SW1A 1AA'), { found: 'unjudged', raw: 'SW1A 1AA', part: 'postalCode' }],
  [address('NO', 'Californication', 'x'), { found: 'covered', territory: 'west' }],
  // A region tells its country; one of another country than the record's is passed over.
  [
    { ...address(''), region: value('region', 'US-OR') },
    { found: 'covered', territory: 'pacific', by: 'region' },
  ],
  [{ ...address('GB'), region: value('region', 'US-OR') }, { found: 'open-ground' }],
])('%j lies in %j', (where, answer) => {
  expect(at(where)).toEqual(answer);
});

test('a region given up falls to the one around it, else to its country', () => {
  expect(claimAround(coverage, 'US-CA')?.keys).toEqual(['states']);
  expect(claimAround(coverage, 'GB-EDH')?.keys).toEqual(['scotland']);
  expect(claimAround(coverage, 'GB-SCT')).toBeNull();
});

test('a pin beats every address', () => {
  for (const where of [address('NO'), address('Malta'), address('Swedenn'), address('')])
    expect(at(where, 'b')).toEqual({ found: 'pinned', territory: 'b' });
});

test('depth counts the territories around one, and a circle of parents comes to an end', () => {
  const list = [
    ...[territory('nordics', null), territory('west', 'nordics'), territory('fjord', 'west')],
    ...[territory('p', 'q'), territory('q', 'p')],
  ];
  const byKey = new Map(list.map((one) => [one.key, one]));
  expect(['nordics', 'west', 'fjord', 'p'].map((key) => depthOf(key as TerritoryKey, byKey))).toEqual([0, 1, 2, 2]);
  const inside = insideOf(list);
  expect(inside.get('nordics')).toEqual(['nordics', 'west', 'fjord']);
  expect(inside.get('west')).toEqual(['west', 'fjord']);
  expect(inside.get('p')).toEqual(['p', 'q']);
});

/** The most specific claim on an address by trying every one of every territory; null: none. */
function bruteForce(list: readonly Drawn[], where: { country: string; region: string | null; code: string }) {
  const byKey = new Map(list.map((one) => [one.key, one]));
  const claims = list.flatMap(({ key, countries, regions, postalCodes }) => [
    ...countries.filter((one) => one === where.country).map(() => ({ key, rank: [0, 0] })),
    ...regions.flatMap((one) => {
      const around = where.region === null ? [] : regionsAround(where.region);
      const depth = around.indexOf(one);
      return depth < 0 ? [] : [{ key, rank: [1, -depth] }];
    }),
    ...postalCodes.flatMap((one) => {
      if (one.country !== where.country) return [];
      switch (one.kind) {
        case 'code':
          return one.code === where.code ? [{ key, rank: [4, 0] }] : [];
        case 'prefix':
          return where.code.startsWith(one.prefix) ? [{ key, rank: [2, one.prefix.length] }] : [];
        case 'range':
          return one.from.length === where.code.length && one.from <= where.code && where.code <= one.to
            ? [{ key, rank: [3, Number(one.from) - Number(one.to)] }]
            : [];
      }
    }),
  ]);
  const best = claims.reduce((most, { rank }) => (compare(rank, most) > 0 ? rank : most), [-1, 0]);
  const equal = [...new Set(claims.filter(({ rank }) => compare(rank, best) === 0).map(({ key }) => key))].sort();
  const inner = equal.filter((key) => !equal.some((one) => one !== key && aroundOf(one, byKey).includes(key)));
  return inner[0] ?? equal[0] ?? null;
}
const compare = ([a = 0, b = 0]: number[], [c = 0, d = 0]: number[]): number => a - c || b - d;

const POSTAL: fc.Arbitrary<PostalCoverage> = fc.oneof(
  fc.nat(9).map((n) => codes('US', `1000${n}`)),
  fc.constantFrom('1', '10', '1000').map((of) => prefix('US', of)),
  // One inside another, or apart: those that cross are an overlap, and tell nothing of a rank.
  fc
    .constantFrom(['10000', '10009'], ['10002', '10005'], ['10003', '10004'], ['10007', '10008'])
    .map(([from, to]) => codes('US', from ?? '', to)),
);
const TERRITORIES = fc
  .array(
    fc.record({
      parent: fc.option(fc.nat(4)),
      countries: fc.subarray(['US', 'GB']),
      regions: fc.subarray(['US-CA', 'US-NY', 'GB-SCT', 'GB-EDH']),
      postalCodes: fc.array(POSTAL, { maxLength: 3 }),
    }),
    { minLength: 1, maxLength: 5 },
  )
  .map((list) =>
    list.map(({ parent, ...covers }, i) =>
      territory(`t${i}`, parent === null || parent >= i ? null : `t${parent}`, covers),
    ),
  );

test('the most specific coverage counts, in whatever order it was entered (against a search of all claims)', () => {
  const places = fc.record({
    region: fc.constantFrom(null, 'US-CA', 'US-NY', 'GB-SCT', 'GB-EDH'),
    code: fc.nat(9).map((n) => `1000${n}`),
  });
  fc.assert(
    fc.property(TERRITORIES, places, fc.infiniteStream(fc.nat()), (drawn, { region, code }, dice) => {
      const country = region === null ? 'US' : countryOfRegion(region);
      const where: Address = {
        country: value('country', country),
        region: region === null ? BLANK : value('region', region),
        postalCode: country === 'US' ? value('postal-code', code, 'US') : BLANK,
      };
      const expected = bruteForce(drawn, { country, region, code: country === 'US' ? code : '' });
      const shuffled = drawn
        .map((one) => ({ one, by: dice.next().value as number }))
        .sort((a, b) => a.by - b.by)
        .map(({ one }) => one);
      for (const order of [drawn, shuffled]) {
        const found = territoryOf(coverageOf(order), null, where);
        expect('territory' in found ? found.territory : null).toBe(expected);
      }
    }),
    { numRuns: 1000 },
  );
});
