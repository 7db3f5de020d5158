import {
  addressOf,
  coverageOf,
  encodePopulation,
  type Field,
  fold,
  JUST_IN,
  type MovingRecord,
  type PostalCoverage,
  readValue,
  REGION_LIST,
  type Drawn,
  territoryColumn,
  type TerritoryKey,
  territoryOf,
  type Value,
} from '@relvik/core';
import { Dice } from './dice';
import { atLeast, atMost, type Figure, letGo, ROUNDS, timeOf } from './measure';

export const LOOKED = { field: 'country', regionField: 'region', postalField: 'postal' } as const;
export const ADDRESS_FIELDS: readonly Field[] = (
  [
    ['country', 'country'],
    ['region', 'region'],
    ['postal', 'postal-code'],
  ] as const
).map(([key, type]) => ({ key, name: key, type, options: [], retired: false }));

const COUNTRIES = ['US', 'DE', 'GB', 'CA', 'AU', 'NO', 'SE', 'FR', 'ES', 'IT'];
/** Sweeps in a round: one is too short to be timed right after garbage was collected. */
const SWEEPS = 20;
const DEEP = ['US', 'DE', 'CA', 'AU'];

/** Territories of countries, regions and postal codes of every kind. */
function drawnTerritories(count: number, dice: Dice): Drawn[] {
  const regions = REGION_LIST.filter(({ code }) => DEEP.includes(code.slice(0, 2))).map(({ code }) => code);
  const digits = (length: number): string => String(dice.whole(10 ** length)).padStart(length, '0');
  return Array.from({ length: count }, (_, i): Drawn => {
    const country = dice.chance(0.6) ? 'US' : 'DE';
    const from = digits(5);
    const to = String(Math.min(99_999, Number(from) + dice.whole(300))).padStart(5, '0');
    const codes: PostalCoverage[] = [
      { kind: 'range', country, from, to },
      { kind: 'prefix', country, prefix: digits(dice.chance(0.5) ? 2 : 3) },
      { kind: 'code', country, code: digits(5) },
    ];
    return {
      ...{ key: `t${i}` as TerritoryKey, parent: null },
      countries: i < COUNTRIES.length ? [COUNTRIES[i] as string] : [],
      regions: i % 20 === 0 ? [regions[dice.whole(regions.length)] as string] : [],
      postalCodes: codes,
    };
  });
}

/** Records with nothing but an address. */
export function addressed(count: number, dice: Dice): MovingRecord[] {
  const value = (i: number, written: string, country: string): Value =>
    readValue(ADDRESS_FIELDS[i] as Field, written, '2026-03-01', country);
  const regions = new Map(
    DEEP.map((country) => [country, REGION_LIST.filter(({ code }) => code.startsWith(`${country}-`))]),
  );
  return Array.from({ length: count }, (_, i): MovingRecord => {
    const country = COUNTRIES[dice.whole(COUNTRIES.length)] as string;
    const own = regions.get(country) ?? [];
    const region = own.length > 0 && dice.chance(0.8) ? (own[dice.whole(own.length)]?.code ?? '') : '';
    const postal = ['US', 'DE'].includes(country) && dice.chance(0.8) ? String(10_000 + dice.whole(89_999)) : '';
    return {
      ...{ id: String(i + 1), kind: 'lead', arrived: 0, way: null, activities: [], standing: JUST_IN },
      values: new Map([
        ['country', value(0, country, country)],
        ['region', value(1, region, country)],
        ['postal', value(2, postal, country)],
      ]),
    };
  });
}

/** Addresses resolved over columns against one by one: 2,000 territories of countries, regions, and postal codes of every kind. */
export function territoryFigures(count: number): Figure[] {
  const dice = new Dice(15);
  const list = drawnTerritories(2000, dice);
  const records = addressed(count, dice);
  const coverage = coverageOf(list);
  const fields = new Map(ADDRESS_FIELDS.map((one) => [one.key, one]));
  const population = encodePopulation(
    records.map((record) => ({ record, touched: 0, closed: null })),
    fields,
  );
  const territories = { ...LOOKED, list };
  // As a record is decided: its address is read from its values, then found.
  const oneByOne = (): (string | null)[] =>
    records.map(({ values }) => {
      const address = addressOf(LOOKED, (field) => values.get(field) ?? { kind: 'blank' });
      const found = territoryOf(coverage, null, address);
      return 'territory' in found ? found.territory : null;
    });
  const swept = territoryColumn(population, territories, coverage);
  const expected = oneByOne().map((key) => key && fold(key));
  swept.codes.forEach((code, i) => {
    const key = code === 0 ? null : (swept.dictionary[code - 1] ?? null);
    if (key !== expected[i]) throw new Error(`Record ${i + 1}: ${key} over columns, ${expected[i]} one by one`);
  });
  const times: number[] = [];
  const ratios: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    letGo();
    const columns = timeOf(() => {
      for (let n = 0; n < SWEEPS; n += 1) territoryColumn(population, territories, coverage);
    });
    letGo();
    const single = timeOf(oneByOne);
    times.push(columns / SWEEPS);
    ratios.push((SWEEPS * single) / columns);
  }
  const whole = count.toLocaleString('en');
  return [
    atMost('S2', `territories of ${whole} addresses over columns, 2,000 territories`, 100, 'ms', times),
    atLeast('S2', `territories of ${whole} addresses over columns, against one by one`, 20, ratios),
  ];
}
