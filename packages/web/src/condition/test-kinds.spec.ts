import {
  bindCondition,
  type Condition,
  type FieldType,
  FIELD_TYPES,
  kindsFrom,
  STANDARD_KINDS,
  fieldScope,
  type Problem,
  type Scope,
  Spot,
  subjectsIn,
} from '@relvik/core';
import { freshTest, kindsFor, unwrapped, wrapped } from './test-kinds';

const scopeOf = (type: FieldType): Scope =>
  fieldScope(
    new Map([
      [
        'f',
        {
          key: 'f',
          name: 'F',
          type,
          options: type === 'choice' || type === 'choices' ? ['Brewery'] : [],
          retired: false,
        },
      ],
    ]),
    'EUR',
  );
const ROUTE: Scope = {
  ...scopeOf('choice'),
  place: 'route',
  kinds: kindsFrom(STANDARD_KINDS),
  owners: ['ada'],
  sets: ['leads'],
  bands: { fit: ['A'], engagement: ['quiet'] },
  stages: ['new'],
  territories: ['north'],
};

test.each([...FIELD_TYPES.map(scopeOf), ROUTE])('every question offered suits its subject as it is added', (scope) => {
  for (const subject of subjectsIn(scope))
    for (const { test: kind } of kindsFor(subject, scope)) {
      const problems: Problem[] = [];
      bindCondition(freshTest(subject, scope, kind), scope, Spot.root(problems));
      expect([subject, kind, problems]).toEqual([subject, kind, []]);
    }
});

test('two times not is none, and what is unwrapped wraps again', () => {
  const blank: Condition = { test: 'blank', subject: { kind: 'field', field: 'f' } };
  expect(unwrapped({ test: 'not', of: { test: 'not', of: blank } })).toEqual({ inner: blank, negated: false });
  expect(unwrapped(wrapped(blank, true))).toEqual({ inner: blank, negated: true });
});

test('of a territory one asks what it is, or what it lies in; of a number, one value', () => {
  const labels = (subject: Parameters<typeof kindsFor>[0]) => kindsFor(subject, ROUTE).map(({ label }) => label);
  expect(labels({ kind: 'territory' })).toEqual(expect.arrayContaining(['is one of', 'lies in', 'is blank']));
  expect(labels({ kind: 'field', field: 'f' })).not.toContain('lies in');
  expect(labels({ kind: 'score', axis: 'fit' })).toEqual(['is in', 'is', 'is blank']);
});
