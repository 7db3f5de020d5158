import { type PostalCoverage, type Territory, TERRITORY_COLOURS, type TerritoryKey } from '@relvik/core';
import fc from 'fast-check';
import { readCsv, writeCsv } from './csv';
import { groundText, territoriesFromTable, territoryTable } from './territory-table';

const postal: fc.Arbitrary<PostalCoverage> = fc.oneof(
  fc.constantFrom('80331', '00501').map((code) => ({ kind: 'code' as const, country: 'DE', code })),
  fc.constantFrom('8', '803').map((prefix) => ({ kind: 'prefix' as const, country: 'US', prefix })),
  fc.constant({ kind: 'range' as const, country: 'DE', from: '80000', to: '81999' }),
  fc.constant({ kind: 'code' as const, country: 'GB', code: 'SW1A1AA' }),
);
const territories: fc.Arbitrary<Territory[]> = fc
  .array(
    fc.record({
      name: fc.stringMatching(/^[A-Za-z"',;=+ -]{1,20}$/).filter((name) => name.trim() === name && name !== ''),
      code: fc.constantFrom(null, 'A', 'B-1'),
      colour: fc.constantFrom(null, ...TERRITORY_COLOURS),
      team: fc.constantFrom(null, 'north' as never),
      manager: fc.constantFrom(null, 'ada' as never),
      countries: fc.subarray(['NO', 'SE', 'US']),
      regions: fc.subarray(['US-CA', 'DE-BY', 'DE-RUHR']),
      postalCodes: fc.uniqueArray(postal, { maxLength: 3, selector: (one) => JSON.stringify(one) }),
    }),
    { maxLength: 4 },
  )
  .map((list) =>
    list.map((one, i) => ({
      ...one,
      key: `t${i}` as TerritoryKey,
      parent: i === 0 ? null : (`t${i - 1}` as TerritoryKey),
    })),
  );
const OWN = { ownRegions: [{ code: 'DE-RUHR', name: 'Ruhr' }] };

test('territories written as CSV are read again as they were, whatever their names', () => {
  fc.assert(
    fc.property(territories, (list) => {
      const csv = readCsv(writeCsv(territoryTable(list)));
      if (!csv.ok) throw new Error(JSON.stringify(csv.problems));
      // A name that a spreadsheet would run as a formula has an apostrophe before it.
      const read = territoriesFromTable(csv.table, OWN);
      const tame = (name: string): string => name.replace(/^(?=[=+-])/, "'");
      expect(read).toEqual({ ok: true, territories: list.map((one) => ({ ...one, name: tame(one.name) })) });
    }),
  );
});

test('grounds are written as they are typed', () => {
  expect(groundText({ kind: 'postal', coverage: { kind: 'range', country: 'DE', from: '80000', to: '81999' } })).toBe(
    'DE 80000-81999',
  );
});

const HEADER = ['key', 'name', 'inside', 'colour', 'ground'];
test.each([
  [[['', 'North', '', '', 'NO']], 'The key is missing'],
  [[['a', '', '', '', 'NO']], 'The name is missing'],
  [[['a', 'A', '', 'red', 'NO']], 'Is no colour: red'],
  [[['a', 'A', '', '', 'NO, Atlantis']], 'Is not recognised: Atlantis'],
  [
    [
      ['a', 'A', '', '', 'NO'],
      ['a', 'B', '', '', 'SE'],
    ],
    'Says another name of a than its first row',
  ],
])('%j is refused: %s', (rows, message) => {
  const read = territoriesFromTable({ header: HEADER, rows });
  expect(read.ok ? [] : read.problems.map((one) => one.message)).toEqual([expect.stringContaining(message)]);
});

test('a table without its columns is refused; ground may be named as people call it, several in a cell', () => {
  expect(territoriesFromTable({ header: ['key', 'name'], rows: [] })).toMatchObject({ ok: false });
  const read = territoriesFromTable(
    {
      header: HEADER,
      rows: [
        ['a', 'A', '', '', 'Norway; Bavaria'],
        ['a', '', '', '', 'Ruhr'],
      ],
    },
    OWN,
  );
  expect(read).toMatchObject({ ok: true, territories: [{ countries: ['NO'], regions: ['DE-BY', 'DE-RUHR'] }] });
});
