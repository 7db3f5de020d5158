import fc from 'fast-check';
import { iso31661 } from 'iso-3166';
import { COUNTRY_LIST } from './country';
import type { Field, FieldType } from './field';
import { Rates } from './money';
import { divideHalfAway, parseScaled, showScaled } from './scaled';
import { readValue, showValue } from './value';

const field = (type: FieldType): Field => ({
  key: 'f',
  name: 'F',
  type,
  options: ['Fish farm', 'Brewery'],
  retired: false,
});
const read = (type: FieldType, raw: Parameters<typeof readValue>[1]) => readValue(field(type), raw, '2026-03-01');

test.each<[FieldType, Parameters<typeof readValue>[1], string]>([
  ['number', 'about 50', 'is not a number'],
  ['number', '1,200', 'is not a number'],
  ['number', '0.00001', 'has more than 4 decimals'],
  ['number', '99999999999999999999', 'is too large'],
  ['money', '20000', 'needs one currency, such as 20000 EUR'],
  ['money', '20000 XXQ', 'names no currency in use: XXQ'],
  ['money', '10.5 JPY', 'has more than 0 decimals'],
  ['choice', 'Distillery', 'is not one of the options'],
  ['yes-no', 'maybe', 'is neither yes nor no'],
  ['date', '2026-02-30', 'is not a day written YYYY-MM-DD'],
  ['email', 'nobody@', 'is not an e-mail address'],
  ['country', 'Norwegen?!x', 'is not a country'],
])('%s %p is kept raw and marked', (type, raw, why) => {
  expect(read(type, raw)).toEqual({ kind: 'unreadable', raw, why });
});

test.each<[FieldType, Parameters<typeof readValue>[1], string]>([
  ['number', ' 12.50 ', '12.5'],
  ['money', 'eur 20000', '20000 EUR'],
  ['money', { amount: '19999.99', currency: 'nok' }, '19999.99 NOK'],
  ['choice', 'FISH FARM', 'Fish farm'],
  ['yes-no', true, 'yes'],
  ['country', 'norway', 'NO'],
  ['country', 'NOR', 'NO'],
  ['text', '   ', ''],
])('%s reads %p as %p', (type, raw, shown) => {
  expect(showValue(read(type, raw))).toBe(shown);
});

test('every country of ISO 3166-1 is read by both its codes (source: the package iso-3166)', () => {
  expect(COUNTRY_LIST.length).toBeGreaterThanOrEqual(iso31661.length);
  for (const { alpha2, alpha3 } of iso31661) {
    expect(read('country', alpha2)).toMatchObject({ text: alpha2 });
    expect(read('country', alpha3.toLowerCase())).toMatchObject({ text: alpha2 });
  }
});

test('what is shown of a number can be read again', () => {
  fc.assert(
    fc.property(fc.maxSafeInteger(), fc.integer({ min: 0, max: 6 }), (scaled, decimals) => {
      expect(parseScaled(showScaled(scaled, decimals), decimals)).toEqual({
        ok: true,
        scaled: scaled === 0 ? 0 : scaled,
      });
    }),
  );
});

test('halves go away from zero', () => {
  expect([5n, -5n, 4n, -7n].map((n) => divideHalfAway(n, 2n))).toEqual([3n, -3n, 2n, -4n]);
});

test('another base currency is computed by cross rates, rounded once; without its rate nothing is converted', () => {
  const rates = new Rates(
    [
      { currency: 'NOK', from: '2026-01-01', micro: 85_000 },
      { currency: 'NOK', from: '2026-02-01', micro: 100_000 },
      { currency: 'JPY', from: '2026-01-15', micro: 6_150 },
    ],
    'EUR',
  );
  const inNok = (minor: number, currency: string, enteredOn: string) =>
    rates.toBase({ minor, currency, enteredOn }, 'NOK');
  expect(inNok(850_00, 'EUR', '2026-01-31')).toBe(10_000_00);
  expect(inNok(850_00, 'EUR', '2026-02-01')).toBe(8_500_00);
  // 1,000 JPY = 6.15 EUR = 72.352… NOK.
  expect(inNok(1000, 'JPY', '2026-01-15')).toBe(72_35);
  expect(inNok(1000, 'JPY', '2026-01-14')).toBeNull();
  expect(inNok(7, 'NOK', '2020-01-01')).toBe(7);
  expect(rates.toBase({ minor: 1, currency: 'EUR', enteredOn: '2026-01-01' }, 'SEK')).toBeNull();
  expect(rates.periods('NOK')).toEqual([
    { currency: 'EUR', from: '2026-01-01', until: '2026-02-01' },
    { currency: 'EUR', from: '2026-02-01', until: null },
    { currency: 'JPY', from: '2026-01-15', until: '2026-02-01' },
    { currency: 'JPY', from: '2026-02-01', until: null },
  ]);
});

test('an amount however large is converted exactly: no whole unit lies nearer, and a half goes away from zero', () => {
  const micro = fc.integer({ min: 1, max: 2_000_000_000 });
  fc.assert(
    fc.property(fc.oneof(fc.integer(), fc.maxSafeInteger()), micro, micro, (minor, from, to) => {
      const day = '2026-01-01';
      const rates = new Rates(
        [
          { currency: 'JPY', from: day, micro: from },
          { currency: 'NOK', from: day, micro: to },
        ],
        'EUR',
      );
      const nok = rates.toBase({ minor, currency: 'JPY', enteredOn: day }, 'NOK');
      // minor · 100 · from / to, as a fraction; a yen has no smaller unit.
      const [exact, parts] = [BigInt(minor) * 100n * BigInt(from), BigInt(to)];
      const size = exact < 0n ? -exact : exact;
      const rounded = (2n * size + parts) / (2n * parts);
      const expected = Number(minor < 0 ? -rounded : rounded);
      expect(nok).toBe(Number.isSafeInteger(expected) ? expected : null);
    }),
  );
});

test('money is converted with the latest rate on or before the day it was entered', () => {
  const rates = new Rates(
    [
      { currency: 'NOK', from: '2026-02-01', micro: 86_000 },
      { currency: 'NOK', from: '2026-01-01', micro: 85_000 },
      { currency: 'JPY', from: '2026-01-01', micro: 6_150 },
    ],
    'EUR',
  );
  const nok = (enteredOn: string) => rates.toBase({ minor: 1_000_00, currency: 'NOK', enteredOn }, 'EUR');
  expect(nok('2026-01-31')).toBe(85_00);
  expect(nok('2026-02-01')).toBe(86_00);
  expect(nok('2025-12-31')).toBeNull();
  expect(rates.toBase({ minor: 100, currency: 'JPY', enteredOn: '2026-01-01' }, 'EUR')).toBe(62);
  expect(rates.toBase({ minor: -100, currency: 'JPY', enteredOn: '2026-01-01' }, 'EUR')).toBe(-62);
});
