import type { Spot } from '../document/problem';
import { type JsonSchema, list, object, oneOf, orNull, type Read, reader, text, yesNo } from '../document/read-json';
import { type Bound, type Condition, MAX_DEPTH, MAX_TESTS } from './condition';

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

const values = list(literal, { least: 1, most: 2000 });

interface Range {
  readonly test: 'range' | 'days-ago';
  readonly field: string;
  readonly from: Bound | null;
  readonly to: Bound | null;
}

function ranged(test: Range['test']): Read<Condition> {
  const form = object<Range>({ test: oneOf([test]), field: text(), from: orNull(bound), to: orNull(bound) }, [
    'from',
    'to',
  ]);
  const given = (end: 'from' | 'to'): JsonSchema => ({ required: [end], properties: { [end]: { type: 'object' } } });
  return reader({ ...form.schema, anyOf: [given('from'), given('to')] }, (json, spot) => {
    const range = form(json, spot);
    if (range.from === null && range.to === null) spot.say('needs a lower or an upper end');
    return range;
  });
}

const listed = <T extends string>(test: T) =>
  object<{ readonly test: T; readonly field: string; readonly values: readonly string[] }>({
    test: oneOf([test]),
    field: text(),
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
  is: always(object<Condition & { test: 'is' }>({ test: oneOf(['is']), field: text(), value: literal })),
  'one-of': always(listed('one-of')),
  inside: always(listed('inside')),
  contains: always(listed('contains')),
  'starts-with': always(listed('starts-with')),
  'ends-with': always(listed('ends-with')),
  range: always(ranged('range')),
  'days-ago': always(ranged('days-ago')),
  blank: always(object<Condition & { test: 'blank' }>({ test: oneOf(['blank']), field: text() })),
  currency: always(listed('currency')),
};
const TESTS = Object.keys(KINDS) as Kind[];

const REFERENCE: JsonSchema = { $ref: '#/$defs/condition' };
const REFERRED: Read<Condition> = reader(REFERENCE, () => NOTHING);

/** The definition behind `#/$defs/condition` in a schema that holds conditions. */
export const CONDITION_SCHEMA: JsonSchema = { oneOf: TESTS.map((test) => KINDS[test](REFERRED).schema) };

/**
 * Reads a condition from JSON: its form only. Whether the fields exist and the tests suit them is asked by `bindCondition`.
 *
 * @returns a condition; where the JSON was wrong, a stand-in, and the problems are said at their places
 */
export const readCondition: Read<Condition> = reader(REFERENCE, (json, spot) => {
  let tests = 0;

  function read(part: unknown, at: Spot, depth: number): Condition {
    tests += 1;
    if (depth > MAX_DEPTH) {
      at.say(`is nested more than ${MAX_DEPTH} deep`);
      return NOTHING;
    }
    if (tests > MAX_TESTS) {
      if (tests === MAX_TESTS + 1) at.say(`is the test after ${MAX_TESTS}, the most in one condition`);
      return NOTHING;
    }
    if (typeof part !== 'object' || part === null || Array.isArray(part)) {
      at.say('must be a condition');
      return NOTHING;
    }
    const kind = TESTS.find((one) => 'test' in part && one === part.test);
    if (kind === undefined) {
      at.at('test').say(`must be one of: ${TESTS.join(', ')}`);
      return NOTHING;
    }
    const nested = reader(REFERENCE, (inner, spotted) => read(inner, spotted, depth + 1));
    return KINDS[kind](nested)(part, at);
  }

  return read(json, spot, 1);
});
