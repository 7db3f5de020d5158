import { choicesOf, fold, NUMBER_DECIMALS, type Origin, showValue, splitChoices, type Value } from '@relvik/core';
import type { FieldValueEntity } from './entity/field-value.entity';

/** The columns of a row, as a plain object. */
type Row = Pick<FieldValueEntity, keyof FieldValueEntity>;

/** What of a row a value is read from. Numbers come as texts, or as numbers where they are read as plain rows. */
export interface KeptValue extends Pick<FieldValueEntity, 'kind' | 'shown' | 'currency' | 'day' | 'why'> {
  readonly number: string | number | null;
}

/** In SQL, of one field: the rows of values that can't be read. They hold nothing to be found by, which the indexes tell. */
export const UNREADABLE =
  "folded IS NULL AND number IS NULL AND currency IS NULL AND day IS NULL AND kind = 'unreadable'";

/** As many characters of a folded text are kept in the column for searching. */
export const FOLDED_LENGTH = 190;

/** The first characters of a folded text. */
export function searchable(folded: string): string {
  return folded.length <= FOLDED_LENGTH ? folded : [...folded].slice(0, FOLDED_LENGTH).join('');
}

/**
 * The row that keeps a value; a blank one is kept as no row.
 *
 * @param setAt when the record got it; null: when it came in
 */
export function rowOf(
  record: number,
  field: string,
  value: Exclude<Value, { kind: 'blank' }>,
  origin: Origin = 'trusted',
  setAt: Date | null = null,
): Row {
  const row: Row = {
    record,
    field,
    kind: value.kind,
    shown: showValue(value),
    folded: null,
    choices: null,
    number: null,
    currency: null,
    day: null,
    why: null,
    origin,
    setAt,
  };
  switch (value.kind) {
    case 'text':
      return { ...row, folded: searchable(value.folded) };
    case 'choices':
      return { ...row, folded: searchable(value.folded), choices: value.folded };
    case 'number':
      return { ...row, number: String(value.scaled) };
    case 'money':
      return { ...row, number: String(value.minor), currency: value.currency, day: value.enteredOn };
    case 'yes-no':
      return { ...row, number: value.yes ? '1' : '0' };
    case 'date':
      return { ...row, day: value.day };
    case 'unreadable':
      return { ...row, why: value.why };
  }
}

/** The value that a row keeps. */
export function valueOf(row: KeptValue): Value {
  switch (row.kind) {
    case 'text':
      return { kind: 'text', text: row.shown, folded: fold(row.shown) };
    case 'choices':
      return { kind: 'choices', ...choicesOf(splitChoices(row.shown)) };
    case 'number':
      return { kind: 'number', scaled: Number(row.number), decimals: NUMBER_DECIMALS };
    case 'money':
      return { kind: 'money', minor: Number(row.number), currency: row.currency ?? '', enteredOn: row.day ?? '' };
    case 'yes-no':
      return { kind: 'yes-no', yes: Number(row.number) === 1 };
    case 'date':
      return { kind: 'date', day: row.day ?? '' };
    case 'unreadable':
      return { kind: 'unreadable', raw: row.shown, why: row.why ?? '' };
  }
}
