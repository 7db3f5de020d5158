import { countryCode } from './country';
import { readPostalCode } from './postal-code';
import { readRegion } from './region';
import { type Choices, choicesOf, splitChoices } from './choices';
import { isDay } from './day';
import { type Field, NUMBER_DECIMALS, takesAnyOption } from './field';
import { fold } from './fold';
import { meaningOf } from './spelling';
import type { Day } from './keys';
import { currencyDecimals, type Money } from './money';
import { parseScaled, showScaled } from './scaled';

/** What a way in hands over for one field. */
export type Raw =
  | string
  | number
  | boolean
  | null
  | readonly string[]
  | { readonly amount: string | number; readonly currency: string };

/** A field's value as rules read it. What can't be read keeps its raw text and says why. */
export type Value =
  | { readonly kind: 'blank' }
  | { readonly kind: 'text'; readonly text: string; readonly folded: string }
  | { readonly kind: 'number'; readonly scaled: number; readonly decimals: number }
  | ({ readonly kind: 'money' } & Money)
  /** At least one: none at all is blank. */
  | ({ readonly kind: 'choices' } & Choices)
  | { readonly kind: 'yes-no'; readonly yes: boolean }
  | { readonly kind: 'date'; readonly day: Day }
  | { readonly kind: 'unreadable'; readonly raw: string; readonly why: string };

export const BLANK: Value = { kind: 'blank' };

const YES = new Set(['yes', 'true', '1', 'y']);
const NO = new Set(['no', 'false', '0', 'n']);

function isSeveral(raw: Raw): raw is readonly string[] {
  return Array.isArray(raw);
}

/** A field for a record that has a value: options that it has stay possible, though they are no longer offered. */
export function withOptionsOf(field: Field, value: Value | undefined): Field {
  const { retiredOptions = [] } = field;
  if (retiredOptions.length === 0 || value === undefined) return field;
  const has = new Set(splitChoices(showValue(value)).map(fold));
  return { ...field, options: [...field.options, ...retiredOptions.filter((option) => has.has(fold(option)))] };
}

/** Why a field takes nothing of this form, whatever it says; null: it does. */
export function formProblem({ type }: Pick<Field, 'type'>, raw: Raw): string | null {
  return isSeveral(raw) && type !== 'choices' ? 'must be one value, not a list' : null;
}

function rawText(raw: Raw): string {
  if (raw === null) return '';
  if (isSeveral(raw)) return raw.join('; ');
  if (typeof raw === 'object') return `${raw.amount} ${raw.currency}`;
  return String(raw);
}

function unreadable(raw: string, why: string): Value {
  return { kind: 'unreadable', raw, why };
}

/** "20000 EUR", "EUR 20000" or "20000.50 eur". */
function readMoney(text: string, enteredOn: Day): Value {
  const match = /^(?:([a-z]{3})\s*)?([+-]?[\d.]+)(?:\s*([a-z]{3}))?$/i.exec(text);
  if (match === null) return unreadable(text, 'is not an amount of money, such as 20000 EUR');
  const code = (match[1] ?? match[3])?.toUpperCase();
  if (code === undefined || (match[1] && match[3])) return unreadable(text, 'needs one currency, such as 20000 EUR');
  const decimals = currencyDecimals(code);
  if (decimals === undefined) return unreadable(text, `names no currency in use: ${code}`);
  const amount = parseScaled(match[2] ?? '', decimals);
  if (!amount.ok) return unreadable(text, amount.why);
  return { kind: 'money', minor: amount.scaled, currency: code, enteredOn };
}

/** The longest option, in characters; a longer one is refused. */
export const LONGEST_OPTION = 190;

/** The option that a text names, by itself or by a spelling that the admin gave; undefined: none. */
export function optionOf(
  { options, spellings }: Pick<Field, 'options' | 'spellings'>,
  text: string,
): string | undefined {
  const among = (name: string): string | undefined => {
    const folded = fold(name);
    return options.find((option) => fold(option) === folded);
  };
  const direct = among(text);
  if (direct !== undefined || spellings === undefined) return direct;
  const meant = meaningOf(spellings, text);
  return meant === undefined ? undefined : among(meant);
}

function readChoices(field: Field, text: string): Value {
  const named = splitChoices(text);
  if (takesAnyOption(field)) {
    const long = named.find((option) => option.length > LONGEST_OPTION);
    if (long !== undefined) return unreadable(text, `has a word of more than ${LONGEST_OPTION} characters`);
  }
  const chosen: string[] = [];
  for (const option of named) {
    const spelled = optionOf(field, option) ?? (takesAnyOption(field) ? option : undefined);
    if (spelled === undefined) return unreadable(text, `names what is not one of the options: ${option.slice(0, 60)}`);
    chosen.push(spelled);
  }
  return chosen.length === 0 ? BLANK : { kind: 'choices', ...choicesOf(chosen) };
}

/**
 * Reads what came in for a field.
 *
 * Never throws and never guesses: what does not fit the field's type becomes `unreadable`, with the raw text and a
 * reason that completes "its value …". Empty after trimming is blank.
 *
 * @param enteredOn the day, in the charter's time zone, on which the value was entered; kept with amounts of money
 * @param country alpha-2 of the record's country, by which regions and postal codes are read; null: unknown
 */
export function readValue(field: Field, raw: Raw, enteredOn: Day, country: string | null = null): Value {
  const text = rawText(raw).trim();
  const folded = fold(text);
  if (folded === '') return BLANK;
  switch (field.type) {
    case 'text':
      return { kind: 'text', text, folded };
    case 'email':
      return /^[^\s@]+@[^\s@]+\.[^\s@.]+$/.test(text)
        ? { kind: 'text', text, folded }
        : unreadable(text, 'is not an e-mail address');
    case 'choice': {
      const option = optionOf(field, text);
      return option === undefined ? unreadable(text, 'is not one of the options') : codeValue(option);
    }
    case 'choices':
      return readChoices(field, text);
    case 'country': {
      const code = countryCode(text, field.spellings);
      return code === undefined ? unreadable(text, 'is not a country') : codeValue(code);
    }
    case 'region': {
      const read = readRegion(text, country, field);
      return read.ok ? codeValue(read.code) : unreadable(text, read.why);
    }
    case 'postal-code': {
      const read = readPostalCode(text, country);
      return read.ok ? codeValue(read.code) : unreadable(text, read.why);
    }
    case 'number': {
      const number = parseScaled(text, NUMBER_DECIMALS);
      return number.ok
        ? { kind: 'number', scaled: number.scaled, decimals: NUMBER_DECIMALS }
        : unreadable(text, number.why);
    }
    case 'money':
      return readMoney(text, enteredOn);
    case 'yes-no':
      if (YES.has(folded)) return { kind: 'yes-no', yes: true };
      return NO.has(folded) ? { kind: 'yes-no', yes: false } : unreadable(text, 'is neither yes nor no');
    case 'date':
      return isDay(text) ? { kind: 'date', day: text } : unreadable(text, 'is not a day written YYYY-MM-DD');
  }
}

function codeValue(code: string): Value {
  return { kind: 'text', text: code, folded: fold(code) };
}

/** A value as people read it and as it can be entered again. */
export function showValue(value: Value): string {
  switch (value.kind) {
    case 'blank':
      return '';
    case 'text':
      return value.text;
    case 'choices':
      return value.texts.join('; ');
    case 'number':
      return showScaled(value.scaled, value.decimals);
    case 'money':
      return `${showScaled(value.minor, currencyDecimals(value.currency) ?? 0)} ${value.currency}`;
    case 'yes-no':
      return value.yes ? 'yes' : 'no';
    case 'date':
      return value.day;
    case 'unreadable':
      return value.raw;
  }
}
