import { bindCondition, type Condition, FIELD_TYPES, type Field, type Problem, Spot } from '@relvik/core';
import { freshTest, kindsFor, pastedValues, unwrapped, wrapped } from './test-kinds';

const field = (type: Field['type']): Field => ({
  key: 'f',
  name: 'F',
  type,
  options: type === 'choice' ? ['Brewery'] : [],
  retired: false,
});

test.each(FIELD_TYPES)('every question offered for a field of type %s suits it as it is added', (type) => {
  for (const { test: kind } of kindsFor(field(type))) {
    const problems: Problem[] = [];
    bindCondition(
      freshTest(field(type), kind),
      { fields: new Map([['f', field(type)]]), baseCurrency: 'EUR' },
      Spot.root(problems),
    );
    expect([kind, problems]).toEqual([kind, []]);
  }
});

test('a column pasted from a spreadsheet becomes values, once each', () => {
  expect(pastedValues('Brewery\r\nFish farm\n\n Brewery \tMill;Dairy')).toEqual([
    'Brewery',
    'Fish farm',
    'Mill',
    'Dairy',
  ]);
});

test('two times not is none, and what is unwrapped wraps again', () => {
  const blank: Condition = { test: 'blank', field: 'f' };
  expect(unwrapped({ test: 'not', of: { test: 'not', of: blank } })).toEqual({ inner: blank, negated: false });
  expect(unwrapped(wrapped(blank, true))).toEqual({ inner: blank, negated: true });
});

test('of a territory one asks what it is, or what it lies in', () => {
  const territory = { ...field('choice'), key: 'territory' };
  expect(kindsFor(territory).map(({ label }) => label)).toEqual(['is one of', 'lies in', 'is blank']);
  expect(kindsFor(field('choice')).map(({ test }) => test)).not.toContain('inside');
  expect(freshTest(territory, 'inside')).toMatchObject({ test: 'inside', field: 'territory' });
});
