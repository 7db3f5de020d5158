import fc from 'fast-check';
import { type Problem, Spot } from '../document/problem';
import type { Raw } from '../record/value';
import { bindCondition } from './bind-condition';
import type { Condition } from './condition';
import { condition, factsOf, FIELDS, rawRecord } from './conditions.fixture';
import { explain, unjudgedFields } from './explain';
import { judge } from './judge';
import { readCondition } from './read-condition';

function bound(test: Condition) {
  const problems: Problem[] = [];
  const ready = bindCondition(test, { fields: FIELDS, baseCurrency: 'EUR' }, Spot.root(problems));
  expect(problems).toEqual([]);
  return ready;
}

const ask = (test: Condition, raw: Record<string, Raw>) => judge(bound(test), factsOf(raw));

test.each<[Condition, Record<string, Raw>, string]>([
  [
    { test: 'range', field: 'size', from: { at: '50', included: true }, to: { at: '75', included: false } },
    { size: '75' },
    'no',
  ],
  [{ test: 'range', field: 'size', from: { at: '50', included: true }, to: null }, { size: '49.9999' }, 'no'],
  [{ test: 'range', field: 'size', from: { at: '50', included: true }, to: null }, { size: 'fifty' }, 'unjudged'],
  [{ test: 'range', field: 'worth', from: { at: '1700', included: true }, to: null }, { worth: '20000 NOK' }, 'yes'],
  [{ test: 'range', field: 'worth', from: { at: '0', included: true }, to: null }, { worth: '100 GBP' }, 'unjudged'],
  [{ test: 'currency', field: 'worth', values: ['GBP'] }, { worth: '100 GBP' }, 'yes'],
  [{ test: 'not', of: { test: 'is', field: 'trade', value: 'Brewery' } }, {}, 'yes'],
  [{ test: 'not', of: { test: 'is', field: 'trade', value: 'Brewery' } }, { trade: 'Mill' }, 'unjudged'],
  [{ test: 'blank', field: 'size' }, { size: 'fifty' }, 'no'],
  [{ test: 'is', field: 'land', value: 'Norway' }, { land: 'nor' }, 'yes'],
  [{ test: 'ends-with', field: 'mail', values: ['@fjord.example'] }, { mail: 'B@FJORD.EXAMPLE' }, 'yes'],
  [{ test: 'days-ago', field: 'since', from: { at: '0', included: true }, to: null }, { since: '2026-02-28' }, 'yes'],
  [{ test: 'days-ago', field: 'since', from: { at: '0', included: true }, to: null }, { since: '2026-03-01' }, 'no'],
  [{ test: 'days-ago', field: 'since', from: null, to: { at: '59', included: false } }, { since: '2025-12-31' }, 'no'],
  [{ test: 'days-ago', field: 'since', from: null, to: { at: '59', included: true } }, { since: 'soon' }, 'unjudged'],
  [{ test: 'all', of: [] }, {}, 'yes'],
  [{ test: 'any', of: [] }, {}, 'no'],
])('%j on %j is %s', (test, raw, answer) => {
  expect(ask(test, raw)).toBe(answer);
});

test('the account of a condition always gives the answer of judge, and an unjudged one names a field', () => {
  fc.assert(
    fc.property(condition, rawRecord, (test, raw) => {
      const ready = bound(test);
      const account = explain(ready, factsOf(raw));
      expect(account.answer).toBe(judge(ready, factsOf(raw)));
      expect(unjudgedFields(account).size > 0).toBe(account.answer === 'unjudged');
    }),
    { numRuns: 1000 },
  );
});

test('a condition is read back from its JSON as it was', () => {
  fc.assert(
    fc.property(condition, (test) => {
      const problems: Problem[] = [];
      expect(readCondition(JSON.parse(JSON.stringify(test)), Spot.root(problems))).toEqual(test);
      expect(problems).toEqual([]);
    }),
  );
});

test.each<[unknown, string, string]>([
  [{ test: 'like', field: 'words' }, '/test', 'must be one of'],
  [{ test: 'is', field: 'words', value: 'x', extra: 1 }, '/extra', 'is not known here'],
  [{ test: 'all', of: [{ test: 'not' }] }, '/of/0/of', 'must be a condition'],
  [{ test: 'range', field: 'size' }, '', 'needs a lower or an upper end'],
])('%j is refused at its place', (json, path, message) => {
  const problems: Problem[] = [];
  readCondition(json, Spot.root(problems));
  expect(problems).toContainEqual({ path, message: expect.stringContaining(message) as string });
});

test('nesting and size are limited', () => {
  const deep = Array.from({ length: 30 }).reduce<unknown>((of) => ({ test: 'not', of }), { test: 'all', of: [] });
  const wide = { test: 'any', of: Array.from({ length: 2000 }, () => ({ test: 'blank', field: 'x' })) };
  for (const json of [deep, wide]) {
    const problems: Problem[] = [];
    readCondition(json, Spot.root(problems));
    expect(problems).toHaveLength(1);
  }
});

test.each<[Condition, string]>([
  [{ test: 'is', field: 'nowhere', value: 'x' }, '/field'],
  [{ test: 'contains', field: 'size', values: ['5'] }, '/test'],
  [{ test: 'one-of', field: 'trade', values: ['Brewery', 'Mill'] }, '/values/1'],
  [{ test: 'is', field: 'land', value: 'Atlantis' }, '/value'],
  [{ test: 'range', field: 'size', from: { at: 'x', included: true }, to: null }, '/from/at'],
  [{ test: 'range', field: 'size', from: { at: '5', included: true }, to: { at: '5', included: false } }, ''],
])('%j does not suit its field', (test, path) => {
  const problems: Problem[] = [];
  bindCondition(test, { fields: FIELDS, baseCurrency: 'EUR' }, Spot.root(problems));
  expect(problems.map((p) => p.path)).toEqual([path]);
});
