import type { Spot } from '../document/problem';
import { list, oneOf, orNull, type Read, readObject, text, yesNo } from '../document/read-json';
import { type Bound, type Condition, MAX_DEPTH, MAX_TESTS, TEXT_PARTS } from './condition';

const TESTS = [
  'all',
  'any',
  'not',
  'is',
  'one-of',
  'inside',
  ...TEXT_PARTS,
  'range',
  'days-ago',
  'blank',
  'currency',
] as const;

/** Literals may be written as JSON numbers or yes/no; the charter keeps them as text. */
const literal: Read<string> = (json, spot) =>
  typeof json === 'number' || typeof json === 'boolean' ? String(json) : text()(json, spot);

const bound: Read<Bound> = (json, spot) => {
  if (typeof json === 'object' && json !== null && !Array.isArray(json))
    return readObject<Bound>(json, spot, { at: literal, included: yesNo });
  spot.say('must be an end such as {"at": "20", "included": true}, or null for none');
  return { at: '0', included: true };
};
const NOTHING: Condition = { test: 'all', of: [] };

/**
 * Reads a condition from JSON: its form only. Whether the fields exist and the tests suit them is asked by `bindCondition`.
 *
 * @returns a condition; where the JSON was wrong, a stand-in, and the problems are said at their places
 */
export function readCondition(json: unknown, spot: Spot): Condition {
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
    const nested: Read<Condition> = (inner, spotted) => read(inner, spotted, depth + 1);
    const is = <T extends string>(value: T): Read<T> => oneOf<T>([value]);
    const values = list(literal, { least: 1, most: 2000 });
    switch (kind) {
      case 'all':
      case 'any':
        return readObject<Condition & { test: 'all' | 'any' }>(part, at, { test: is(kind), of: list(nested) });
      case 'not':
        return readObject<Condition & { test: 'not' }>(part, at, { test: is(kind), of: nested });
      case 'is':
        return readObject<Condition & { test: 'is' }>(part, at, { test: is(kind), field: text(), value: literal });
      case 'range':
      case 'days-ago': {
        const range = readObject<{ test: typeof kind; field: string; from: Bound | null; to: Bound | null }>(
          part,
          at,
          { test: is(kind), field: text(), from: orNull(bound), to: orNull(bound) },
          ['from', 'to'],
        );
        if (range.from === null && range.to === null) at.say('needs a lower or an upper end');
        return range;
      }
      case 'blank':
        return readObject<Condition & { test: 'blank' }>(part, at, { test: is(kind), field: text() });
      case 'one-of':
        return readObject<Condition & { test: 'one-of' }>(part, at, { test: is(kind), field: text(), values });
      case 'inside':
        return readObject<Condition & { test: 'inside' }>(part, at, { test: is(kind), field: text(), values });
      case 'currency':
        return readObject<Condition & { test: 'currency' }>(part, at, { test: is(kind), field: text(), values });
      case 'contains':
      case 'starts-with':
      case 'ends-with':
        return readObject<Condition & { test: typeof kind }>(part, at, { test: is(kind), field: text(), values });
    }
  }

  return read(json, spot, 1);
}
