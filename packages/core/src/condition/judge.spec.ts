import fc from 'fast-check';
import { type Problem, Spot } from '../document/problem';
import type { Raw } from '../record/value';
import { bindCondition } from './bind-condition';
import type { Condition } from './condition';
import { condition, factsOf, FIELDS, rawRecord, SCOPE } from './conditions.fixture';
import { explain, unjudgedFields } from './explain';
import { judge } from './judge';
import { readCondition } from './read-condition';
import type { RulePlace } from './scope';
import type { FieldSubject, Subject } from './subject';

const field = (key: string): FieldSubject => ({ kind: 'field', field: key });
const sinceDays: Subject = { kind: 'days-since', day: field('since') };

function bound(test: Condition) {
  const problems: Problem[] = [];
  const ready = bindCondition(test, SCOPE, Spot.root(problems));
  expect(problems).toEqual([]);
  return ready;
}

const ask = (test: Condition, raw: Record<string, Raw>) => judge(bound(test), factsOf(raw));

test.each<[Condition, Record<string, Raw>, string]>([
  [
    { test: 'range', subject: field('size'), from: { at: '50', included: true }, to: { at: '75', included: false } },
    { size: '75' },
    'no',
  ],
  [{ test: 'range', subject: field('size'), from: { at: '50', included: true }, to: null }, { size: '49.9999' }, 'no'],
  [
    { test: 'range', subject: field('size'), from: { at: '50', included: true }, to: null },
    { size: 'fifty' },
    'unjudged',
  ],
  [
    { test: 'range', subject: field('worth'), from: { at: '1700', included: true }, to: null },
    { worth: '20000 NOK' },
    'yes',
  ],
  [
    { test: 'range', subject: field('worth'), from: { at: '0', included: true }, to: null },
    { worth: '100 GBP' },
    'unjudged',
  ],
  [{ test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['GBP'] }, { worth: '100 GBP' }, 'yes'],
  [{ test: 'not', of: { test: 'one-of', subject: field('trade'), values: ['Brewery'] } }, {}, 'yes'],
  [
    { test: 'not', of: { test: 'one-of', subject: field('trade'), values: ['Brewery'] } },
    { trade: 'Mill' },
    'unjudged',
  ],
  [{ test: 'blank', subject: field('size') }, { size: 'fifty' }, 'no'],
  [{ test: 'one-of', subject: field('land'), values: ['Norway'] }, { land: 'nor' }, 'yes'],
  [{ test: 'ends-with', subject: field('mail'), values: ['@fjord.example'] }, { mail: 'B@FJORD.EXAMPLE' }, 'yes'],
  [{ test: 'range', subject: sinceDays, from: { at: '0', included: true }, to: null }, { since: '2026-02-28' }, 'yes'],
  [{ test: 'range', subject: sinceDays, from: { at: '0', included: true }, to: null }, { since: '2026-03-01' }, 'no'],
  [{ test: 'range', subject: sinceDays, from: null, to: { at: '59', included: false } }, { since: '2025-12-31' }, 'no'],
  [{ test: 'range', subject: sinceDays, from: null, to: { at: '59', included: true } }, { since: 'soon' }, 'unjudged'],
  [{ test: 'all', of: [] }, {}, 'yes'],
  [{ test: 'any', of: [] }, {}, 'no'],
])('%j on %j is %s', (test, raw, answer) => {
  expect(ask(test, raw)).toBe(answer);
});

test.each<[string, string, string]>([
  ['7500 SEK', 'no', 'no'],
  ['7500.01 SEK', 'yes', 'no'],
  ['8000 EUR', 'no', 'yes'],
  ['8000 NOK', 'yes', 'no'],
])('%s, over 7,500 as entered and in SEK or NOK: %s; over 7,500 in the base currency: %s', (worth, entered, inBase) => {
  const over = { test: 'range', from: { at: '7500', included: false }, to: null } as const;
  const asEntered: Condition = {
    test: 'all',
    of: [
      { ...over, subject: { kind: 'amount', field: 'worth' } },
      { test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['SEK', 'NOK'] },
    ],
  };
  expect([ask(asEntered, { worth }), ask({ ...over, subject: field('worth') }, { worth })]).toEqual([entered, inBase]);
});

test('what happened exactly at the end of a window is outside it, a minute later it is not', () => {
  const once: Condition = {
    test: 'range',
    subject: { kind: 'happened', activity: 'mail_clicked', having: [], within: 7 },
    from: { at: '1', included: true },
    to: null,
  };
  const week = 7 * 24 * 60;
  expect([week, week - 1, 0, -1].map((minutes) => ask(once, { did: `mail_clicked ${minutes} ` }))).toEqual([
    'no',
    'yes',
    'yes',
    'no',
  ]);
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
  [{ test: 'like', subject: field('words') }, '/test', 'must be one of'],
  [{ test: 'one-of', subject: field('words'), values: ['x'], extra: 1 }, '/extra', 'is not known here'],
  [{ test: 'blank', subject: { kind: 'weather' } }, '/subject/kind', 'must be one of'],
  [{ test: 'blank', subject: { kind: 'field' } }, '/subject/field', 'is missing'],
  [{ test: 'all', of: [{ test: 'not' }] }, '/of/0/of', 'must be a condition'],
  [{ test: 'range', subject: field('size') }, '', 'needs a lower or an upper end'],
])('%j is refused at its place', (json, path, message) => {
  const problems: Problem[] = [];
  readCondition(json, Spot.root(problems));
  expect(problems).toContainEqual({ path, message: expect.stringContaining(message) as string });
});

test.each<[unknown, Condition]>([
  [
    { test: 'is', field: 'trade', value: 'Brewery' },
    { test: 'one-of', subject: field('trade'), values: ['Brewery'] },
  ],
  [
    { test: 'days-ago', field: 'since', from: { at: 3, included: true } },
    { test: 'range', subject: sinceDays, from: { at: '3', included: true }, to: null },
  ],
  [
    { test: 'currency', field: 'worth', values: ['NOK'] },
    { test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['NOK'] },
  ],
  [
    { test: 'not', of: { test: 'blank', field: 'engagement_band' } },
    { test: 'not', of: { test: 'blank', subject: { kind: 'band', axis: 'engagement' } } },
  ],
  [
    { test: 'any', of: [{ test: 'is', field: 'verdict', value: 'decline' }] },
    { test: 'any', of: [{ test: 'one-of', subject: { kind: 'verdict' }, values: ['decline'] }] },
  ],
])('%j, as earlier charters have it, is read in the form of today', (json, expected) => {
  const problems: Problem[] = [];
  expect(readCondition(json, Spot.root(problems))).toEqual(expected);
  expect(problems).toEqual([]);
});

test('nesting and size are limited', () => {
  const deep = Array.from({ length: 30 }).reduce<unknown>((of) => ({ test: 'not', of }), { test: 'all', of: [] });
  const wide = { test: 'any', of: Array.from({ length: 2000 }, () => ({ test: 'blank', subject: field('x') })) };
  for (const json of [deep, wide]) {
    const problems: Problem[] = [];
    readCondition(json, Spot.root(problems));
    expect(problems).toHaveLength(1);
  }
});

test.each<[Condition, string]>([
  [{ test: 'one-of', subject: field('nowhere'), values: ['x'] }, '/subject/field'],
  [{ test: 'contains', subject: field('size'), values: ['5'] }, '/test'],
  [{ test: 'one-of', subject: field('trade'), values: ['Brewery', 'Mill'] }, '/values/1'],
  [{ test: 'one-of', subject: field('land'), values: ['Atlantis'] }, '/values/0'],
  [{ test: 'one-of', subject: field('likes'), values: ['Brewery'] }, '/test'],
  [{ test: 'any-of', subject: field('trade'), values: ['Brewery'] }, '/test'],
  [{ test: 'all-of', subject: field('likes'), values: ['Brewery', 'Mill'] }, '/values/1'],
  [{ test: 'any-of', subject: field('tags'), values: ['any', 'a;b'] }, '/values/1'],
  [{ test: 'one-of', subject: field('size'), values: ['1', '2'] }, '/values/1'],
  [{ test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['XXY'] }, '/values/0'],
  [{ test: 'one-of', subject: { kind: 'currency', field: 'size' }, values: ['EUR'] }, '/subject/field'],
  [{ test: 'blank', subject: { kind: 'verdict' } }, '/subject'],
  // No date is so far away.
  [{ test: 'range', subject: sinceDays, from: { at: '999999999999', included: true }, to: null }, '/from/at'],
  [{ test: 'one-of', subject: sinceDays, values: ['-100001'] }, '/values/0'],
  [{ test: 'range', subject: field('size'), from: { at: 'x', included: true }, to: null }, '/from/at'],
  [{ test: 'range', subject: field('size'), from: { at: '5', included: true }, to: { at: '5', included: false } }, ''],
])('%j does not suit its field', (test, path) => {
  const problems: Problem[] = [];
  bindCondition(test, SCOPE, Spot.root(problems));
  expect(problems.map((p) => p.path)).toEqual([path]);
});

test('a rule may not name an option that is retired; a list may look for records that have it', () => {
  const trade = { ...FIELDS.get('trade')!, options: ['Brewery'], retiredOptions: ['Mill'] };
  const problemsAt = (place: RulePlace): string[] => {
    const problems: Problem[] = [];
    const scope = { ...SCOPE, place, fields: new Map([['trade', trade]]) };
    bindCondition({ test: 'one-of', subject: field('trade'), values: ['mill'] }, scope, Spot.root(problems));
    return problems.map(({ message }) => message);
  };
  expect([problemsAt('signal'), problemsAt('list')]).toEqual([['is retired: mill'], []]);
});
