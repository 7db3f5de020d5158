import type { Spot } from '../document/problem';
import { COUNTRY_BY_FOLDED_NAME } from '../record/country';
import { isDay } from '../record/day';
import { type Catalogue, type Field, type FieldType, NUMBER_DECIMALS, RESERVED_KEYS } from '../record/field';
import { fold } from '../record/fold';
import { currencyDecimals } from '../record/money';
import { parseScaled } from '../record/scaled';
import type { Bound, Condition, FieldTest } from './condition';
import type { ReadyBound, ReadyCondition, ReadyTest } from './ready';

/** What a condition may ask about, at the place where it stands. */
export interface Scope {
  /** The fields that may be read here, computed ones included. */
  readonly fields: Catalogue;
  readonly baseCurrency: string;
  /** By the key of each territory those inside it, itself included. Missing: there are none here. */
  readonly inside?: ReadonlyMap<string, readonly string[]>;
}

const SUITS: { readonly [T in FieldTest['test']]: readonly FieldType[] } = {
  is: ['text', 'email', 'choice', 'country', 'yes-no', 'number', 'date'],
  'one-of': ['text', 'email', 'choice', 'country'],
  inside: ['choice'],
  contains: ['text', 'email', 'choice'],
  'starts-with': ['text', 'email', 'choice'],
  'ends-with': ['text', 'email', 'choice'],
  range: ['number', 'money', 'date'],
  'days-ago': ['date'],
  blank: ['text', 'email', 'choice', 'country', 'yes-no', 'number', 'money', 'date'],
  currency: ['money'],
};

const NEVER: ReadyCondition = { kind: 'any', of: [] };

/** The names that a condition may read here, for error messages: "the record’s own fields, fit, verdict". */
function readableWords(fields: Catalogue): string {
  return ['the record’s own fields', ...[...RESERVED_KEYS].filter((key) => fields.has(key))].join(', ');
}

/** A text literal as a field of that type holds it; says so where the field can never hold it. */
function literal(value: string, field: Field, spot: Spot): string {
  const folded = fold(value);
  if (field.type === 'country') {
    const code = COUNTRY_BY_FOLDED_NAME.get(folded);
    if (code === undefined) spot.say(`is not a country: ${value}`);
    return fold(code ?? value);
  }
  if (field.type === 'choice' && !field.options.some((option) => fold(option) === folded)) {
    spot.say(`is not one of the options of ${field.key}: ${value}`);
  }
  if (folded === '') spot.say('must not be empty: use the test blank');
  return folded;
}

function scaledBound(
  bound: Bound | null,
  decimals: number,
  spot: Spot,
  currency: string | null = null,
): ReadyBound<number> | null {
  if (bound === null) return null;
  const at = parseScaled(bound.at, decimals);
  if (!at.ok)
    spot
      .at('at')
      .say(currency === null ? at.why : `${at.why}: write an amount in ${currency} without it, such as 20000`);
  return { at: at.ok ? at.scaled : 0, included: bound.included };
}

function dayBound(bound: Bound | null, spot: Spot): ReadyBound<string> | null {
  if (bound !== null && !isDay(bound.at)) spot.at('at').say('is not a day written YYYY-MM-DD');
  return bound;
}

function notEmpty<T extends number | string>(from: ReadyBound<T> | null, to: ReadyBound<T> | null, spot: Spot): void {
  if (from === null || to === null) return;
  if (from.at > to.at || (from.at === to.at && !(from.included && to.included)))
    spot.say('holds no value: its ends are the wrong way round');
}

function bindTest(test: FieldTest, field: Field, scope: Scope, spot: Spot): ReadyTest {
  const base = { field: test.field, source: test };
  switch (test.test) {
    case 'is': {
      const at = spot.at('value');
      if (field.type === 'yes-no') {
        if (test.value !== 'yes' && test.value !== 'no') at.say('must be yes or no');
        return { ...base, kind: 'yes-no', yes: test.value === 'yes' };
      }
      if (field.type === 'number') {
        const exact = scaledBound({ at: test.value, included: true }, NUMBER_DECIMALS, spot);
        return { ...base, kind: 'number-in', from: exact, to: exact };
      }
      if (field.type === 'date') {
        if (!isDay(test.value)) at.say('is not a day written YYYY-MM-DD');
        const day = { at: test.value, included: true };
        return { ...base, kind: 'day-in', from: day, to: day };
      }
      return { ...base, kind: 'text-in', folded: new Set([literal(test.value, field, at)]) };
    }
    case 'one-of': {
      const folded = test.values.map((value, i) => literal(value, field, spot.at('values').at(i)));
      return { ...base, kind: 'text-in', folded: new Set(folded) };
    }
    case 'inside': {
      if (field.key !== 'territory') spot.at('field').say(`is no territory: ${field.key}`);
      const keys = test.values.flatMap((value, i) => {
        const key = literal(value, field, spot.at('values').at(i));
        return scope.inside?.get(key) ?? [key];
      });
      return { ...base, kind: 'text-in', folded: new Set(keys) };
    }
    case 'contains':
    case 'starts-with':
    case 'ends-with':
      test.values.forEach((value, i) => {
        if (fold(value) === '') spot.at('values').at(i).say('must not be empty');
      });
      return { ...base, kind: 'text-part', part: test.test, folded: test.values.map(fold) };
    case 'range': {
      if (field.type === 'date') {
        const [from, to] = [dayBound(test.from, spot.at('from')), dayBound(test.to, spot.at('to'))];
        notEmpty(from, to, spot);
        return { ...base, kind: 'day-in', from, to };
      }
      const money = field.type === 'money';
      const decimals = money ? (currencyDecimals(scope.baseCurrency) ?? 2) : NUMBER_DECIMALS;
      const currency = money ? scope.baseCurrency : null;
      const from = scaledBound(test.from, decimals, spot.at('from'), currency);
      const to = scaledBound(test.to, decimals, spot.at('to'), currency);
      notEmpty(from, to, spot);
      return { ...base, kind: money ? 'money-in' : 'number-in', from, to };
    }
    case 'days-ago': {
      const from = scaledBound(test.from, 0, spot.at('from'));
      const to = scaledBound(test.to, 0, spot.at('to'));
      notEmpty(from, to, spot);
      return { ...base, kind: 'days-ago-in', from, to };
    }
    case 'blank':
      return { ...base, kind: 'blank' };
    case 'currency':
      test.values.forEach((code, i) => {
        if (currencyDecimals(code.toUpperCase()) === undefined)
          spot.at('values').at(i).say(`is no currency in use: ${code}`);
      });
      return { ...base, kind: 'currency-in', codes: new Set(test.values.map((code) => code.toUpperCase())) };
  }
}

/**
 * Makes a condition ready to be judged: looks its fields up, folds and scales its literals.
 *
 * @returns the ready condition; where something is wrong it is said at `spot`, and a stand-in that never holds is put there
 */
export function bindCondition(condition: Condition, scope: Scope, spot: Spot): ReadyCondition {
  switch (condition.test) {
    case 'all':
    case 'any':
      return {
        kind: condition.test,
        of: condition.of.map((part, i) => bindCondition(part, scope, spot.at('of').at(i))),
      };
    case 'not':
      return { kind: 'not', of: bindCondition(condition.of, scope, spot.at('of')) };
    default: {
      const field = scope.fields.get(condition.field);
      if (field === undefined) {
        spot
          .at('field')
          .say(`no such field can be read here: ${condition.field}; here one may read ${readableWords(scope.fields)}`);
        return NEVER;
      }
      if (field.retired) spot.at('field').say(`is retired: ${condition.field}`);
      if (!SUITS[condition.test].includes(field.type)) {
        spot.at('test').say(`does not suit ${field.key}, which holds ${field.type}`);
        return NEVER;
      }
      return bindTest(condition, field, scope, spot);
    }
  }
}
