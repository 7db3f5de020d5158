import type { ChangeField, FieldRow, NewField, OptionListRow } from '@relvik/contracts';
import {
  bareKey,
  FIELD_ROLES,
  type Field,
  type FieldRole,
  type FieldType,
  fieldKey,
  isChosen,
  kindOfField,
  type RecordKind,
  ROLES_OF,
  roleOf,
  takesAnyOption,
} from '@relvik/core';

export const TYPE_WORDS: { readonly [T in FieldType]: string } = {
  text: 'text',
  number: 'number',
  money: 'amount of money',
  choice: 'choice from a list',
  choices: 'several from a list',
  'yes-no': 'yes or no',
  date: 'day',
  email: 'e-mail',
  country: 'country',
  region: 'region: a state, province or nation',
  'postal-code': 'postal code',
};

/** Roles as admins know them. */
export const ROLE_WORDS: { readonly [R in FieldRole]: string } = {
  name: 'its name',
  email: 'the e-mail',
  phone: 'the telephone',
  company: 'the company’s name',
  source: 'where it came from',
  domain: 'the mail domain',
  country: 'the country',
  amount: 'the amount',
  close: 'the expected close',
};

/** The options that were typed, one a line. */
export function optionsIn(text: string): string[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
}

/** A key made of a name, for whoever does not think of one. */
export function keyFrom(name: string): string {
  const words = name
    .normalize('NFKD')
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '');
  return words.slice(0, 39);
}

/** A field as it is typed in. */
export interface FieldForm {
  readonly name: string;
  /** Without its kind. */
  readonly key: string;
  readonly type: FieldType;
  readonly role: FieldRole | null;
  readonly feeds: string | null;
  readonly optionList: string | null;
  /** One a line. */
  readonly options: string;
  readonly personal: boolean;
}

export const EMPTY_FORM: FieldForm = {
  name: '',
  key: '',
  type: 'text',
  role: null,
  feeds: null,
  optionList: null,
  options: '',
  personal: false,
};

export function formOf(field: FieldRow): FieldForm {
  const { name, key, type, feeds = null, optionList = null, options, personal = false } = field;
  return {
    ...{ name, type, feeds, optionList, personal },
    key: bareKey(key),
    role: roleOf(field),
    options: options.join('\n'),
  };
}

export function newField(kind: RecordKind, form: FieldForm): NewField {
  const { name, key, type, role, feeds, optionList, options, personal } = form;
  return {
    ...{ name, type, role, feeds, optionList, personal },
    key: fieldKey(kind, key),
    options: optionList === null ? optionsIn(options) : [],
  };
}

export function changedField(kind: RecordKind, form: FieldForm, retired: boolean): ChangeField {
  const { name, role, feeds, optionList, options, personal } = form;
  return {
    ...{ name, feeds, optionList, personal, retired, options: optionList === null ? optionsIn(options) : [] },
    ...(mayChangeRole(kind, form) ? { role: role === 'amount' ? role : null } : {}),
  };
}

/** Whether a field's role can be given later: nothing stored depends on what leads are worth. */
export function mayChangeRole(kind: RecordKind, { type }: Pick<FieldForm, 'type'>): boolean {
  return kind === 'lead' && type === 'money';
}

/** Whether the admin says what can be chosen. */
export function hasOptions({ key, type }: Pick<Field, 'key' | 'type'>): boolean {
  return isChosen(type) && !takesAnyOption({ key });
}

interface Choice<T> {
  readonly label: string;
  readonly value: T | null;
}

/**
 * The roles that a field of a kind may have: those that suit its type and that no other has.
 *
 * @param own the key of the field itself; undefined: it is new
 */
export function freeRoles(
  kind: RecordKind,
  type: FieldType,
  fields: readonly Field[],
  own: string | undefined,
): Choice<FieldRole>[] {
  const others = fields.filter(({ key, retired }) => kindOfField(key) === kind && !retired && key !== own);
  const taken = new Set(others.map(roleOf));
  const free = FIELD_ROLES.filter((role) => ROLES_OF[kind][role]?.includes(type) && !taken.has(role));
  return [{ label: 'read by rules alone', value: null }, ...free.map((value) => ({ label: ROLE_WORDS[value], value }))];
}

/** The fields of contacts and companies that a field of leads may feed: those of its type. */
export function feedTargets(
  type: FieldType,
  fields: readonly Field[],
  nameOf: (key: string) => string,
): Choice<string>[] {
  const targets = fields.filter(
    (field) =>
      ['contact', 'company'].includes(kindOfField(field.key)) &&
      field.type === type &&
      !field.retired &&
      !takesAnyOption(field),
  );
  return [{ label: 'nothing', value: null }, ...targets.map(({ key }) => ({ label: nameOf(key), value: key }))];
}

/** Lists that several fields share, as choices. */
export function listChoices(lists: readonly OptionListRow[]): Choice<string>[] {
  return [{ label: 'options of its own', value: null }, ...lists.map(({ key, name }) => ({ label: name, value: key }))];
}
