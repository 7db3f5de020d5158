import type { Spot } from '../document/problem';
import { countryCode } from '../record/country';
import { postalForm } from '../record/postal-code';
import { readRegion } from '../record/region';
import { optionProblem } from '../record/choices';
import { isDay } from '../record/day';
import { fold } from '../record/fold';
import { optionOf } from '../record/value';
import { currencyDecimals } from '../record/money';
import { parseScaled } from '../record/scaled';
import type { Bound, Predicate, PredicateKind } from './predicate';
import type { ReadyBound, ReadyPredicate } from './ready';
import type { Scope } from './scope';
import type { HeldType, Holds } from './subject-row';

/** Which predicates suit a subject, by what it holds, the most usual first. */
export const SUITING: { readonly [T in HeldType]: readonly PredicateKind[] } = {
  text: ['one-of', 'contains', 'starts-with', 'ends-with', 'blank'],
  email: ['ends-with', 'contains', 'starts-with', 'one-of', 'blank'],
  choice: ['one-of', 'contains', 'starts-with', 'ends-with', 'blank'],
  choices: ['any-of', 'all-of', 'blank'],
  country: ['one-of', 'blank'],
  region: ['one-of', 'blank'],
  'postal-code': ['one-of', 'starts-with', 'blank'],
  currency: ['one-of'],
  'yes-no': ['one-of', 'blank'],
  number: ['range', 'one-of', 'blank'],
  money: ['range', 'blank'],
  date: ['range', 'one-of', 'blank'],
};

/** A text literal as a subject holds it; says so where it can never hold it. */
function literal(value: string, holds: Holds, { place }: Scope, spot: Spot): string {
  const folded = fold(value);
  if (holds.type === 'currency') {
    if (currencyDecimals(value.toUpperCase()) === undefined) spot.say(`is no currency in use: ${value}`);
    return folded;
  }
  if (holds.type === 'country') {
    const code = countryCode(value, holds.spellings);
    if (code === undefined) spot.say(`is not a country: ${value}`);
    return fold(code ?? value);
  }
  if (holds.type === 'region') {
    const read = readRegion(value, null, holds);
    if (!read.ok) spot.say(`${read.why}: ${value}`);
    return fold(read.ok ? read.code : value);
  }
  if (holds.type === 'postal-code') return fold(postalForm(value, null));
  if (holds.type === 'choice' || holds.type === 'choices') {
    const among = (options: readonly string[]): boolean => options.some((option) => fold(option) === folded);
    // A list may look for records that still have it.
    if (among(holds.retired)) {
      if (place !== 'list') spot.say(`is retired: ${value}`);
    } else if (!holds.open) {
      const option = optionOf(holds, value);
      if (option === undefined) spot.say(`is not one of the options of ${holds.key}: ${value}`);
      else return fold(option);
    }
    if (holds.type === 'choices') {
      const problem = optionProblem(value);
      if (problem !== null) spot.say(problem);
    }
  }
  if (folded === '') spot.say('must not be empty: use the test blank');
  return folded;
}

/** Whole numbers count days, or how often: within these every day has a date. */
const MOST_WHOLE = 100_000;

/** A number as a subject holds it; says so where it can't be read, or lies too far away. */
function numberAt(text: string, holds: Pick<Holds, 'decimals'>, spot: Spot): number {
  const at = parseScaled(text, holds.decimals);
  if (!at.ok) spot.say(at.why);
  else if (holds.decimals === 0 && Math.abs(at.scaled) > MOST_WHOLE)
    spot.say(`must be from -${MOST_WHOLE} to ${MOST_WHOLE}`);
  return at.ok ? at.scaled : 0;
}

function numberBound(bound: Bound | null, holds: Holds, spot: Spot): ReadyBound<number> | null {
  return bound && { at: numberAt(bound.at, holds, spot.at('at')), included: bound.included };
}

function moneyBound(bound: Bound | null, currency: string, spot: Spot): ReadyBound<number> | null {
  if (bound === null) return null;
  const at = parseScaled(bound.at, currencyDecimals(currency) ?? 2);
  if (!at.ok) spot.at('at').say(`${at.why}: write an amount in ${currency} without it, such as 20000`);
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

/** One of some texts; of a number, a day, and yes or no: the one value that it is. */
function bindOneOf(values: readonly string[], holds: Holds, scope: Scope, spot: Spot): ReadyPredicate {
  const each = (i: number): Spot => spot.at('values').at(i);
  const [first = ''] = values;
  const single = holds.type === 'yes-no' || holds.type === 'number' || holds.type === 'date';
  if (single && values.length > 1) each(1).say('is one too many: join several tests with any');
  switch (holds.type) {
    case 'yes-no':
      if (first !== 'yes' && first !== 'no') each(0).say('must be yes or no');
      return { kind: 'yes-no', yes: first === 'yes' };
    case 'number': {
      const exact = { at: numberAt(first, holds, each(0)), included: true };
      return { kind: 'number-in', from: exact, to: exact };
    }
    case 'date': {
      if (!isDay(first)) each(0).say('is not a day written YYYY-MM-DD');
      const day = { at: first, included: true };
      return { kind: 'day-in', from: day, to: day };
    }
    default:
      return { kind: 'text-in', folded: new Set(values.map((value, i) => literal(value, holds, scope, each(i)))) };
  }
}

function bindRange(
  { from, to }: Extract<Predicate, { test: 'range' }>,
  holds: Holds,
  scope: Scope,
  spot: Spot,
): ReadyPredicate {
  const ends = [spot.at('from'), spot.at('to')] as const;
  if (holds.type === 'date') {
    const span = { from: dayBound(from, ends[0]), to: dayBound(to, ends[1]) };
    notEmpty(span.from, span.to, spot);
    return { kind: 'day-in', ...span };
  }
  const money = holds.type === 'money';
  const end = (bound: Bound | null, at: Spot): ReadyBound<number> | null =>
    money ? moneyBound(bound, scope.baseCurrency, at) : numberBound(bound, holds, at);
  const span = { from: end(from, ends[0]), to: end(to, ends[1]) };
  notEmpty(span.from, span.to, spot);
  return { kind: money ? 'money-in' : 'number-in', ...span };
}

/** Makes a predicate ready to be asked of what a subject holds. What is wrong is said at `spot`. */
export function bindPredicate(predicate: Predicate, holds: Holds, scope: Scope, spot: Spot): ReadyPredicate {
  switch (predicate.test) {
    case 'one-of':
      return bindOneOf(predicate.values, holds, scope, spot);
    case 'inside': {
      const keys = predicate.values.flatMap((value, i) => {
        const territory = literal(value, holds, scope, spot.at('values').at(i));
        return scope.inside.get(territory) ?? [territory];
      });
      return { kind: 'text-in', folded: new Set(keys) };
    }
    case 'any-of':
    case 'all-of': {
      const { test, values } = predicate;
      return {
        kind: test,
        folded: new Set(values.map((value, i) => literal(value, holds, scope, spot.at('values').at(i)))),
      };
    }
    case 'contains':
    case 'starts-with':
    case 'ends-with':
      predicate.values.forEach((value, i) => {
        if (fold(value) === '') spot.at('values').at(i).say('must not be empty');
      });
      return { kind: 'text-part', part: predicate.test, folded: predicate.values.map(fold) };
    case 'range':
      return bindRange(predicate, holds, scope, spot);
    case 'blank':
      return { kind: 'blank' };
  }
}
