import { type Field, FIELD_KEY, FIELD_TYPES, LONGEST_OPTION, optionProblem } from '@relvik/core';
import { array, boolean, object, string } from 'yup';
import { trimmed } from './text';

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
    .matches(FIELD_KEY, 'must be a small letter, then small letters, digits or _, at most 48'),
  name,
  type: string().oneOf(FIELD_TYPES).required(),
  options,
  personal: boolean().default(false),
}).exact();
export type NewField = Pick<Field, 'key' | 'name' | 'type' | 'options' | 'personal'>;

/** A field never changes its key or type. */
export const changeFieldSchema = object({ name, options, retired: boolean().required(), personal: boolean() }).exact();
export type ChangeField = Pick<Field, 'name' | 'options' | 'retired' | 'personal'>;

/** A field, and how many leads have a value in it. */
export interface FieldRow extends Field {
  readonly filled: number;
  readonly unreadable: number;
}
