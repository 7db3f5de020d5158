import fc from 'fast-check';
import type { Condition } from '../condition/condition';
import { condition as ownCondition, tiedTest } from '../condition/conditions.fixture';
import type { ScoreAxis, Subject } from '../condition/subject';
import { VERDICT_KEYS } from '../grade/verdict';

export const STAGES = ['new', 'warm', 'qualified', 'out'];
export const TERRITORIES = ['north', 'south'];

export const option = <T>(one: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(one);
export const on = fc.boolean().map((off) => !off);

/** A condition over the fields of a lead, now and then across a tie. */
export const condition = fc.oneof({ arbitrary: ownCondition, weight: 4 }, { arbitrary: tiedTest, weight: 1 });

const score = (axis: ScoreAxis): fc.Arbitrary<Condition> =>
  fc.tuple(fc.integer({ min: -20, max: 60 }), fc.boolean(), fc.boolean()).map(([at, included, lower]) => {
    const end = { at: String(at), included };
    return { test: 'range', subject: { kind: 'score', axis }, from: lower ? end : null, to: lower ? null : end };
  });
const oneOf = (subject: Subject, values: readonly string[]): fc.Arbitrary<Condition & { test: 'one-of' }> =>
  fc.subarray([...values], { minLength: 1 }).map((some) => ({ test: 'one-of', subject, values: some }));

const stageDays = fc
  .tuple(
    ...([fc.constantFrom('0', '1', '3', '30'), fc.boolean(), fc.boolean()] as const),
    fc.constantFrom('days-in-stage', 'hours-in-stage'),
  )
  .map(([at, included, lower, kind]): Condition => {
    const end = { at, included };
    return { test: 'range', subject: { kind }, from: lower ? end : null, to: lower ? null : end };
  });

export const computed: fc.Arbitrary<Condition> = fc.oneof(
  oneOf({ kind: 'verdict' }, VERDICT_KEYS),
  oneOf({ kind: 'band', axis: 'fit' }, ['c', 'b', 'a']),
  oneOf({ kind: 'band', axis: 'engagement' }, ['quiet', 'active']),
  oneOf({ kind: 'stage' }, STAGES),
  score('fit'),
  stageDays,
  fc
    .tuple(score('fit'), fc.constant('set0'), fc.constantFrom('fit', 'engagement', 'rank'))
    .map(([one, set, axis]): Condition => ({ ...one, subject: { kind: 'set-score', set, axis } }) as Condition),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'set-score', set: 'set0', axis: 'fit' } }),
  oneOf({ kind: 'owner' }, ['ada', 'bo']),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'owner' } }),
  fc
    .tuple(fc.constantFrom('any-of', 'all-of'), fc.subarray(['north', 'south'], { minLength: 1 }))
    .map(([test, values]): Condition => ({ test, subject: { kind: 'team' }, values })),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'team' } }),
  score('engagement'),
  score('rank'),
  fc
    .constantFrom<Subject>({ kind: 'verdict' }, { kind: 'score', axis: 'rank' })
    .map((subject): Condition => ({ test: 'blank', subject })),
);
export const inRoutes: fc.Arbitrary<Condition> = fc.oneof(
  computed,
  oneOf({ kind: 'territory' }, TERRITORIES),
  oneOf({ kind: 'territory' }, TERRITORIES).map((one): Condition => ({ ...one, test: 'inside' })),
  fc.constant<Condition>({ test: 'blank', subject: { kind: 'territory' } }),
);
/** A condition that reads fields, and what the way computed before it. */
export const mixed = (leaf: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
  fc.oneof(
    leaf,
    condition,
    fc
      .tuple(fc.constantFrom('all', 'any'), fc.array(fc.oneof(leaf, condition), { maxLength: 3 }))
      .map(([test, of]): Condition => ({ test, of })),
    fc.oneof(leaf, condition).map((of): Condition => ({ test: 'not', of })),
  );
