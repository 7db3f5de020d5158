import fc from 'fast-check';
import type { Field } from '../record/field';
import { fold } from '../record/fold';
import { JUST_IN, type MovingRecord } from '../record/record';
import { readValue, type Value } from '../record/value';
import { addressOf, coverageOf, territoryOf } from '../territory/coverage';
import type { PostalCoverage, Drawn } from '../territory/territory';
import { hasBit } from '../column/bits';
import { encodePopulation } from './encode';
import { territoryColumn } from './territory-column';

const FIELDS: readonly Field[] = (['country', 'region', 'postal-code'] as const).map((type) => ({
  ...{ key: type, name: type, type, options: [], retired: false },
}));
const LOOKED = { field: 'country', regionField: 'region', postalField: 'postal-code' } as const;

const postal: fc.Arbitrary<PostalCoverage> = fc.constantFrom<PostalCoverage>(
  { kind: 'code', country: 'US', code: '10001' },
  { kind: 'code', country: 'US', code: '10500' },
  { kind: 'prefix', country: 'US', prefix: '10' },
  { kind: 'prefix', country: 'US', prefix: '109' },
  { kind: 'range', country: 'US', from: '10000', to: '10999' },
  { kind: 'range', country: 'US', from: '10400', to: '10600' },
  { kind: 'range', country: 'US', from: '10550', to: '90001' },
  { kind: 'range', country: 'US', from: '100', to: '999' },
  { kind: 'range', country: 'GB', from: 'AB1', to: 'AB9' },
  { kind: 'prefix', country: 'GB', prefix: 'AB5' },
);
const territories: fc.Arbitrary<Drawn[]> = fc
  .array(
    fc.record({
      countries: fc.subarray(['US', 'GB', 'NO']),
      regions: fc.subarray(['US-CA', 'US-NY', 'GB-SCT']),
      postalCodes: fc.array(postal, { maxLength: 2 }),
    }),
    { maxLength: 4 },
  )
  .map((list) => list.map((covers, i) => ({ key: `t${i}` as never, parent: null, ...covers })));
const addresses = fc.array(
  fc.record({
    country: fc.constantFrom('', 'US', 'GB', 'NO', 'Nowhere'),
    region: fc.constantFrom('', 'US-CA', 'US-NY', 'GB-SCT', 'GB-EDH', 'Nowhere'),
    code: fc.constantFrom('', '10001', '10500', '10500-1234', '10999', '109', '90001', 'AB5', 'AB51', 'ab 5', '#'),
    pin: fc.constantFrom(null, null, null, 't0', 'gone'),
  }),
  { minLength: 1, maxLength: 70 },
);

const value = (i: number, written: string): Value => readValue(FIELDS[i] as Field, written, '2026-03-01');

test('the territories of all records are those of each: with parts blank, unreadable, of other countries, and pinned', () => {
  fc.assert(
    fc.property(territories, addresses, (list, rows) => {
      const records = rows.map(({ country, region, code, pin }, i): MovingRecord => ({
        ...{ id: String(i + 1), kind: 'lead', arrived: 0, way: null, activities: [] },
        values: new Map([
          ['country', value(0, country)],
          ['region', value(1, region)],
          ['postal-code', value(2, code)],
        ]),
        standing: { ...JUST_IN, pin: pin as never },
      }));
      const population = encodePopulation(
        records.map((record) => ({ record, touched: 0, closed: null })),
        new Map(FIELDS.map((field) => [field.key, field])),
      );
      const coverage = coverageOf(list);
      const column = territoryColumn(population, { ...LOOKED, list }, coverage);
      records.forEach((record, i) => {
        const answer = territoryOf(
          coverage,
          record.standing.pin,
          addressOf(LOOKED, (field) => record.values.get(field) as Value),
        );
        const key = 'territory' in answer && list.some((one) => one.key === answer.territory) ? answer.territory : null;
        const code = column.codes[i] as number;
        expect({
          key: code === 0 ? null : column.dictionary[code - 1],
          unjudged: column.unreadable !== null && hasBit(column.unreadable, i),
        }).toEqual({ key: key === null ? null : fold(key), unjudged: answer.found === 'unjudged' });
      });
    }),
    { numRuns: 300 },
  );
});
