import { type Bound, type Condition, readKey, type Scope, type Subject, type Test, testsIn } from '@relvik/core';
import { choicesFeel } from './choices-feel';
import { unnamableProperty } from './happening-feel';
import { heldIn, subjectFeel } from './subject-feel';

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
 * `currency` and `amount`, as it was entered; "so many days ago" is `today()` less the day; what happened is a list of `activities`
 * that is filtered and counted.
 *
 * @param scope it says which values are written as texts, numbers or days
 * @returns the expression, or why there is none: a field that is called like a word of the language
 *
 * @example conditionToFeel({ test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery', 'Fish farm'] }, scope)
 * // { ok: true, text: 'industry in ("Brewery", "Fish farm")' }
 */
export function conditionToFeel(condition: Condition, scope: Scope): FeelText {
  const tests = [...testsIn(condition)];
  const unnamable = tests.map(readKey).find((key) => KEYWORDS.has(key));
  const property = tests.flatMap(({ subject }) =>
    subject.kind === 'happened' ? (unnamableProperty(subject) ?? []) : [],
  )[0];
  if (property !== undefined) return { ok: false, why: `${property} can’t name a property in FEEL` };
  if (unnamable !== undefined)
    return { ok: false, why: `${unnamable} is a word of FEEL, and can’t name a field there` };
  if (tests.reduce((sum, test) => sum + questions(test), 0) > MOST_QUESTIONS)
    return { ok: false, why: `has more than ${MOST_QUESTIONS} questions, too many for one expression` };
  return { ok: true, text: written(condition, scope, 'alone') };
}

/** Longer chains of `and` and `or` are beyond the parser. */
const MOST_QUESTIONS = 250;

function questions(test: Test): number {
  return 'values' in test ? test.values.length : 1;
}

/** Where an expression stands: inside `and` or `or` it may need parentheses. */
type Within = 'alone' | 'all' | 'any';

function written(condition: Condition, scope: Scope, within: Within): string {
  switch (condition.test) {
    case 'all':
    case 'any': {
      const { test, of } = condition;
      const [first] = of;
      if (first === undefined) return test === 'all' ? 'true' : 'false';
      if (of.length === 1) return written(first, scope, within);
      const text = of.map((part) => written(part, scope, test)).join(test === 'all' ? ' and ' : ' or ');
      return within === 'alone' ? text : `(${text})`;
    }
    case 'not':
      return `not(${written(condition.of, scope, 'alone')})`;
    default:
      return writtenTest(condition, scope, within);
  }
}

const FUNCTIONS = {
  inside: 'inside',
  contains: 'contains',
  'starts-with': 'starts with',
  'ends-with': 'ends with',
} as const;

function writtenTest(test: Test, scope: Scope, within: Within): string {
  const subject = subjectFeel(test.subject);
  const write = (value: string): string => literal(value, test.subject, scope);
  switch (test.test) {
    case 'one-of':
      return oneOf(subject, test.values.map(write));
    case 'inside':
    case 'contains':
    case 'starts-with':
    case 'ends-with': {
      const parts = test.values.map((value) => `${FUNCTIONS[test.test]}(${subject}, ${text(value)})`);
      return parts.length === 1 || within === 'alone' ? parts.join(' or ') : `(${parts.join(' or ')})`;
    }
    case 'any-of':
    case 'all-of': {
      const asked = choicesFeel(subject, test.test, test.values);
      // What stands behind `satisfies` reaches as far as it can.
      return test.values.length === 1 || within === 'alone' ? asked : `(${asked})`;
    }
    case 'blank':
      return `${subject} = null`;
    case 'range':
      return range(subject, test.from, test.to, write, within);
  }
}

/** One value is written with `=`: a list of one would be read together with an `and` after it. */
function oneOf(subject: string, values: readonly string[]): string {
  const [first = '', ...others] = values;
  return others.length === 0 ? `${subject} = ${first}` : `${subject} in (${values.join(', ')})`;
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

function literal(value: string, subject: Subject, scope: Scope): string {
  if (subject.kind === 'days-since') return days(value);
  switch (heldIn(scope, subject)?.type) {
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
