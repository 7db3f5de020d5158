import type { Spot } from '../document/problem';
import { type JsonSchema, list, object, oneOf, orNull, type Read, reader, text, yesNo } from '../document/read-json';
import { type Condition, MAX_DEPTH, MAX_TESTS, type Test } from './condition';
import { fromEarlierTest } from './earlier-tests';
import type { Bound, PredicateKind } from './predicate';
import type { Subject } from './subject';
import { readSubject } from './subject-table';

/** Literals may be written as JSON numbers or yes/no; the charter keeps them as text. */
const literal: Read<string> = reader(
  { anyOf: [text().schema, { type: 'number' }, { type: 'boolean' }] },
  (json, spot) => (typeof json === 'number' || typeof json === 'boolean' ? String(json) : text()(json, spot)),
);

const boundForm = object<Bound>({ at: literal, included: yesNo });
const bound: Read<Bound> = reader(boundForm.schema, (json, spot) => {
  if (typeof json === 'object' && json !== null && !Array.isArray(json)) return boundForm(json, spot);
  spot.say('must be an end such as {"at": "20", "included": true}, or null for none');
  return { at: '0', included: true };
});
const NOTHING: Condition = { test: 'all', of: [] };

type Kind = Condition['test'];

/** The definitions behind the references in a schema that holds conditions. */
const CONDITION: JsonSchema = { $ref: '#/$defs/condition' };
const SUBJECT: JsonSchema = { $ref: '#/$defs/subject' };

const subject: Read<Subject> = reader(SUBJECT, readSubject);
const values = list(literal, { least: 1, most: 2000 });

type TestOf<K extends PredicateKind> = Extract<Test, { readonly test: K }>;

const ranged: Read<Condition> = (() => {
  const form = object<TestOf<'range'>>({ test: oneOf(['range']), subject, from: orNull(bound), to: orNull(bound) }, [
    'from',
    'to',
  ]);
  const given = (end: 'from' | 'to'): JsonSchema => ({ required: [end], properties: { [end]: { type: 'object' } } });
  return reader({ ...form.schema, anyOf: [given('from'), given('to')] }, (json, spot) => {
    const range = form(json, spot);
    if (range.from === null && range.to === null) spot.say('needs a lower or an upper end');
    return range;
  });
})();

const listed = <T extends string>(test: T) =>
  object<{ readonly test: T; readonly subject: Subject; readonly values: readonly string[] }>({
    test: oneOf([test]),
    subject,
    values,
  });
const joined = (test: 'all' | 'any', nested: Read<Condition>): Read<Condition> =>
  object<Condition & { test: 'all' | 'any' }>({ test: oneOf([test]), of: list(nested) });

const always =
  (read: Read<Condition>): (() => Read<Condition>) =>
  () =>
    read;

/** How each kind of condition is read, by its test, and what reads the conditions inside it. */
const KINDS: { readonly [K in Kind]: (nested: Read<Condition>) => Read<Condition> } = {
  all: (nested) => joined('all', nested),
  any: (nested) => joined('any', nested),
  not: (nested) => object<Condition & { test: 'not' }>({ test: oneOf(['not']), of: nested }),
  'one-of': always(listed('one-of')),
  inside: always(listed('inside')),
  'any-of': always(listed('any-of')),
  'all-of': always(listed('all-of')),
  contains: always(listed('contains')),
  'starts-with': always(listed('starts-with')),
  'ends-with': always(listed('ends-with')),
  range: always(ranged),
  blank: always(object<TestOf<'blank'>>({ test: oneOf(['blank']), subject })),
};
const TESTS = Object.keys(KINDS) as Kind[];

const REFERRED: Read<Condition> = reader(CONDITION, () => NOTHING);

/** The definitions for schemas that contain conditions: `condition`, and the `subject` of its tests. */
export const CONDITION_DEFINITIONS: Readonly<Record<'condition' | 'subject', JsonSchema>> = {
  condition: { oneOf: TESTS.map((test) => KINDS[test](REFERRED).schema) },
  subject: readSubject.schema,
};

/**
 * Reads a condition from JSON: its form only, in that of earlier charters too. Whether its subjects exist and the tests suit
 * them is asked by `bindCondition`.
 *
 * @returns a condition; where the JSON was wrong, a stand-in, and the problems are said at their places
 */
export const readCondition: Read<Condition> = reader(CONDITION, (json, spot) => {
  let tests = 0;

  function read(given: unknown, at: Spot, depth: number): Condition {
    tests += 1;
    if (depth > MAX_DEPTH) {
      at.say(`is nested more than ${MAX_DEPTH} deep`);
      return NOTHING;
    }
    if (tests > MAX_TESTS) {
      if (tests === MAX_TESTS + 1) at.say(`is the test after ${MAX_TESTS}, the most in one condition`);
      return NOTHING;
    }
    if (typeof given !== 'object' || given === null || Array.isArray(given)) {
      at.say('must be a condition');
      return NOTHING;
    }
    const part = fromEarlierTest(given as Readonly<Record<string, unknown>>);
    const kind = TESTS.find((one) => one === part['test']);
    if (kind === undefined) {
      at.at('test').say(`must be one of: ${TESTS.join(', ')}`);
      return NOTHING;
    }
    const nested = reader(CONDITION, (inner, spotted) => read(inner, spotted, depth + 1));
    return KINDS[kind](nested)(part, at);
  }

  return read(json, spot, 1);
});
