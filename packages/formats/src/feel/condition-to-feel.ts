import type { Bound, Condition, Field, FieldTest } from '@relvik/core';

/** Words of FEEL that no field can be called by. */
const KEYWORDS = new Set([
  'and',
  'or',
  'not',
  'in',
  'if',
  'then',
  'else',
  'for',
  'return',
  'some',
  'every',
  'satisfies',
  'between',
  'instance',
  'of',
  'function',
  'external',
  'true',
  'false',
  'null',
  'date',
  'time',
  'duration',
  'list',
  'context',
]);

export type FeelText = { readonly ok: true; readonly text: string } | { readonly ok: false; readonly why: string };

/**
 * A condition as an expression of FEEL, the language of OMG's DMN standard (1.3 and later, chapter 10).
 *
 * Texts compare as Relvik compares them, folded; an amount stands for its worth in the base currency, and has the property
 * `currency`; "so many days ago" is `today()` less the day.
 *
 * @param fields they say which values are written as texts, numbers or days
 * @returns the expression, or why there is none: a field that is called like a word of the language
 *
 * @example conditionToFeel({ test: 'one-of', field: 'industry', values: ['Brewery', 'Fish farm'] }, fields)
 * // { ok: true, text: 'industry in ("Brewery", "Fish farm")' }
 */
export function conditionToFeel(condition: Condition, fields: ReadonlyMap<string, Field>): FeelText {
  const unnamable = fieldsIn(condition).find((field) => KEYWORDS.has(field));
  if (unnamable !== undefined)
    return { ok: false, why: `${unnamable} is a word of FEEL, and can’t name a field there` };
  if (countTests(condition) > MOST_QUESTIONS)
    return { ok: false, why: `has more than ${MOST_QUESTIONS} questions, too many for one expression` };
  return { ok: true, text: written(condition, fields, 'alone') };
}

/** Longer chains of `and` and `or` are beyond the parser. */
const MOST_QUESTIONS = 250;

function countTests(condition: Condition): number {
  switch (condition.test) {
    case 'all':
    case 'any':
      return condition.of.reduce((sum, part) => sum + countTests(part), 0);
    case 'not':
      return countTests(condition.of);
    default:
      return 'values' in condition ? condition.values.length : 1;
  }
}

function fieldsIn(condition: Condition): readonly string[] {
  switch (condition.test) {
    case 'all':
    case 'any':
      return condition.of.flatMap(fieldsIn);
    case 'not':
      return fieldsIn(condition.of);
    default:
      return [condition.field];
  }
}

/** Where an expression stands: inside `and` or `or` it may need parentheses. */
type Within = 'alone' | 'all' | 'any';

function written(condition: Condition, fields: ReadonlyMap<string, Field>, within: Within): string {
  switch (condition.test) {
    case 'all':
    case 'any': {
      const { test, of } = condition;
      const [first] = of;
      if (first === undefined) return test === 'all' ? 'true' : 'false';
      if (of.length === 1) return written(first, fields, within);
      const text = of.map((part) => written(part, fields, test)).join(test === 'all' ? ' and ' : ' or ');
      return within === 'alone' ? text : `(${text})`;
    }
    case 'not':
      return `not(${written(condition.of, fields, 'alone')})`;
    default:
      return writtenTest(condition, fields.get(condition.field), within);
  }
}

const FUNCTIONS = {
  inside: 'inside',
  contains: 'contains',
  'starts-with': 'starts with',
  'ends-with': 'ends with',
} as const;

function writtenTest(test: FieldTest, field: Field | undefined, within: Within): string {
  switch (test.test) {
    case 'is':
      return `${test.field} = ${literal(test.value, field)}`;
    case 'one-of':
      return oneOf(test.field, test.values);
    case 'inside':
    case 'contains':
    case 'starts-with':
    case 'ends-with': {
      const parts = test.values.map((value) => `${FUNCTIONS[test.test]}(${test.field}, ${text(value)})`);
      return parts.length === 1 || within === 'alone' ? parts.join(' or ') : `(${parts.join(' or ')})`;
    }
    case 'blank':
      return `${test.field} = null`;
    case 'currency':
      return oneOf(`${test.field}.currency`, test.values);
    case 'range':
      return range(test.field, test.from, test.to, (at) => literal(at, field), within);
    case 'days-ago':
      return range(`(today() - ${test.field})`, test.from, test.to, days, within);
  }
}

/** One value is written with `=`: a list of one would be read together with an `and` after it. */
function oneOf(what: string, values: readonly string[]): string {
  const [first = '', ...others] = values;
  return others.length === 0 ? `${what} = ${text(first)}` : `${what} in (${values.map(text).join(', ')})`;
}

function range(
  what: string,
  from: Bound | null,
  to: Bound | null,
  write: (at: string) => string,
  within: Within,
): string {
  if (from !== null && to !== null) {
    const interval = `${from.included ? '[' : '('}${write(from.at)}..${write(to.at)}${to.included ? ']' : ')'}`;
    // Without parentheses an `and` after the interval is read as part of it.
    return within === 'alone' ? `${what} in ${interval}` : `(${what} in ${interval})`;
  }
  if (from !== null) return `${what} ${from.included ? '>=' : '>'} ${write(from.at)}`;
  return to === null ? 'true' : `${what} ${to.included ? '<=' : '<'} ${write(to.at)}`;
}

function text(value: string): string {
  return JSON.stringify(value);
}

function days(at: string): string {
  return at.startsWith('-') ? `duration("-P${at.slice(1)}D")` : `duration("P${at}D")`;
}

const NUMBER = /^-?\d+(\.\d+)?$/;

function literal(value: string, field: Field | undefined): string {
  switch (field?.type) {
    case 'number':
    case 'money':
      return NUMBER.test(value) ? value : text(value);
    case 'date':
      return `date(${text(value)})`;
    case 'yes-no':
      return value === 'yes' ? 'true' : value === 'no' ? 'false' : text(value);
    default:
      return text(value);
  }
}
