import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { readCsv, writeCsv } from './csv';

test('the example of RFC 4180, section 2: quotes, line ends and doubled quotes', () => {
  const reading = readCsv('a,b,c\r\n"aaa","b\r\nbb","c""cc"\r\n');
  expect(reading).toEqual({ ok: true, table: { header: ['a', 'b', 'c'], rows: [['aaa', 'b\r\nbb', 'c"cc']] } });
});

test('what is written is read back the same, by us and by csv-parse', () => {
  const cell = fc
    .string({ unit: fc.constantFrom('a', 'ø', '"', ',', ';', '\n', '\r\n', ' ', '7') })
    .map((text) => `x${text}`);
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1 }), (rows) => {
      const text = writeCsv({ header: ['one', 'two'], rows });
      expect(readCsv(text)).toEqual({ ok: true, table: { header: ['one', 'two'], rows } });
      expect(parse(text, { from: 2 })).toEqual(rows);
    }),
  );
});

test('a byte order mark and semicolons are understood, short rows filled up', () => {
  expect(readCsv('\uFEFFname;size\nOslo;3\nBergen\n\n')).toEqual({
    ok: true,
    table: {
      header: ['name', 'size'],
      rows: [
        ['Oslo', '3'],
        ['Bergen', ''],
      ],
    },
  });
});

test.each([
  ['', /empty/],
  ['a,a\n1,2', /Two columns are named a/],
  ['a,\n1,2', /no name/],
  ['a,b\n1,2,3', /Has 3 cells/],
  ['a,b\n"1,2', /Quoted field/],
])('%j is refused with the place', (text, message) => {
  const reading = readCsv(text);
  expect(reading.ok ? [] : reading.problems.map((p) => p.message)).toContainEqual(expect.stringMatching(message));
});

test('formula cells are defused, numbers are not', () => {
  expect(writeCsv({ header: ['a', 'b', 'c'], rows: [['=1+1', '-5', '@x']] })).toBe("a,b,c\r\n'=1+1,-5,'@x\r\n");
});
