import { LONGEST_OPTION, optionProblem } from '@relvik/core';
import { array, number, object } from 'yup';
import { trimmed } from './text';

/** Longer words are no tags. */
const tag = trimmed()
  .required('A tag must not be empty')
  .max(LONGEST_OPTION)
  .test(
    'option',
    ({ value }) => optionProblem(String(value)) ?? '',
    (value) => optionProblem(value) === null,
  );

/** Whether lists name anything; what is no list is refused beside. */
function named(value: unknown): boolean {
  const { add, remove } = value as Readonly<Record<string, unknown>>;
  return [add, remove].some((list) => !Array.isArray(list) || list.length > 0);
}

/** Tags put on records of one kind, and taken off: a tag in both is put on. */
export const tagManySchema = object({
  ids: array(number().integer().min(1).required()).min(1, 'Choose at least one').max(1000).required(),
  add: array(tag).max(50).required(),
  remove: array(tag).max(50).required(),
})
  .exact()
  .test('some', 'Name a tag to put on or to take off', named);
export interface TagMany {
  readonly ids: readonly number[];
  readonly add: readonly string[];
  readonly remove: readonly string[];
}

/** The result of tagging many records. */
export interface Tagged {
  readonly changed: number;
  /** They had the tags already. */
  readonly unchanged: number;
  /** They are not the user's to edit, or gone. */
  readonly refused: number;
}
