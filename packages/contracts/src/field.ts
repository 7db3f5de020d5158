import { type Field, FIELD_KEY, FIELD_ROLES, FIELD_TYPES, LONGEST_OPTION, optionProblem } from '@relvik/core';
import { array, boolean, object, string } from 'yup';
import { keyText, trimmed } from './text';

const name = trimmed().required('Give it a name').max(120);
/** What may be chosen: at most 500 options, each once. */
const option = trimmed()
  .required('An option must not be empty')
  .max(LONGEST_OPTION)
  .test(
    'option',
    ({ value }) => optionProblem(String(value)) ?? '',
    (value) => optionProblem(value) === null,
  );
const options = array(option)
  .max(500)
  .required()
  .test('distinct', 'has an option twice', (list) => new Set(list).size === list.length);

export const newFieldSchema = object({
  key: string()
    .required('Give it a key')
    .matches(
      FIELD_KEY,
      'must be a small letter, then small letters, digits or _, with contact., company. or deal. before it for another kind than leads, at most 48',
    ),
  name,
  type: string().oneOf(FIELD_TYPES).required(),
  options,
  personal: boolean().default(false),
  /** The use that the product makes of it; given once. */
  role: string().oneOf(FIELD_ROLES).nullable(),
  feeds: keyText().nullable(),
  /** The list that its options are those of. */
  optionList: keyText().nullable(),
}).exact();
export type NewField = Pick<Field, 'key' | 'name' | 'type' | 'options' | 'personal' | 'role' | 'feeds'> & {
  readonly optionList?: string | null;
};

/** A field never changes its key or its type. Its role is given once, but that of an amount of leads, which nothing stored depends on. */
export const changeFieldSchema = object({
  name,
  options,
  retired: boolean().required(),
  personal: boolean(),
  role: string().oneOf(['amount']).nullable(),
  feeds: keyText().nullable(),
  optionList: keyText().nullable(),
}).exact();
export type ChangeField = Pick<Field, 'name' | 'options' | 'retired' | 'personal' | 'feeds'> & {
  readonly optionList?: string | null;
  readonly role?: 'amount' | null;
};

/** Options that several fields share. */
export const optionListSchema = object({
  name,
  options: options.min(1, 'needs at least one option'),
}).exact();
export interface OptionListRow {
  readonly key: string;
  readonly name: string;
  readonly options: readonly string[];
  readonly retiredOptions: readonly string[];
  /** The fields whose options are those of the list. */
  readonly fields: readonly string[];
}

/** A field, and how many records have a value in it. */
export interface FieldRow extends Field {
  readonly filled: number;
  readonly unreadable: number;
}
