import { RECORD_KINDS, type RecordKind } from './kind';
import type { OwnRegion } from './region';
import type { Spelling } from './spelling';

/** What a field can hold. A field never changes its type. */
export const FIELD_TYPES = [
  'text',
  'number',
  'money',
  'choice',
  'choices',
  'yes-no',
  'date',
  'email',
  'country',
  'region',
  'postal-code',
] as const;
export type FieldType = (typeof FIELD_TYPES)[number];

/** Numbers keep four decimals, so that they compare exactly. */
export const NUMBER_DECIMALS = 4;

/**
 * The use that the product itself makes of a field. One field of a kind has a role; it is given when the field is made and never
 * changes.
 */
export const FIELD_ROLES = [
  'name',
  'email',
  'phone',
  'company',
  'source',
  'domain',
  'country',
  'amount',
  'close',
] as const;
export type FieldRole = (typeof FIELD_ROLES)[number];

/** The roles that the fields of a kind can have, each with the types that suit it. */
export const ROLES_OF: Readonly<Record<RecordKind, Partial<Record<FieldRole, readonly FieldType[]>>>> = {
  lead: {
    name: ['text'],
    email: ['email'],
    phone: ['text'],
    company: ['text'],
    source: ['choice', 'text'],
    country: ['country'],
    amount: ['money'],
  },
  contact: { name: ['text'], email: ['email'], phone: ['text'] },
  company: { name: ['text'], domain: ['text'], country: ['country'] },
  deal: { name: ['text'], amount: ['money'], close: ['date'] },
};

export interface Field {
  /** Of a lead `[a-z][a-z0-9_]*`; of another kind that with its kind before it, `company.industry`. Never changed and never reused. */
  readonly key: string;
  readonly name: string;
  /** Null: none. Missing: the one that its key says, where it is one. */
  readonly role?: FieldRole | null;
  /** Of a lead's field: the key of the field of its contact or company that gets what leads say. Missing: none. */
  readonly feeds?: string | null;
  /** The list that its options are those of. Missing: its own. */
  readonly optionList?: string;
  readonly type: FieldType;
  /** For a choice, and for choices: what may be chosen, in the order in which it is offered. */
  readonly options: readonly string[];
  /** Options that are no longer offered: records keep them. Missing: none. */
  readonly retiredOptions?: readonly string[];
  readonly retired: boolean;
  /** Other spellings of its options, countries or regions, which the admin gave. Missing: none. */
  readonly spellings?: readonly Spelling[];
  /** Of a region: those that the admin added. Missing: none. */
  readonly ownRegions?: readonly OwnRegion[];
  /** It tells who someone is: it does not leave the server with the population. Missing: no. */
  readonly personal?: boolean;
}

const BARE_KEY = '[a-z][a-z0-9_]*';
export const FIELD_KEY = new RegExp(`^(?=.{1,48}$)(?:(?:contact|company|deal)\\.)?${BARE_KEY}$`);

/** The key of a field: of another kind than leads, the kind stands before it. */
export function fieldKey(kind: RecordKind, bare: string): string {
  return kind === 'lead' ? bare : `${kind}.${bare}`;
}

/**
 * The kind of records that a field belongs to, by its key.
 *
 * @example kindOfField('company.industry') // 'company'
 */
export function kindOfField(key: string): RecordKind {
  const [kind] = key.split('.', 1);
  return RECORD_KINDS.find((one) => one !== 'lead' && key.startsWith(`${one}.`) && one === kind) ?? 'lead';
}

/** A field's key without its kind: `industry` of `company.industry`. */
export function bareKey(key: string): string {
  return key.slice(key.indexOf('.') + 1);
}

/**
 * The name of a field among those of all kinds.
 *
 * @example fieldName({ key: 'company.industry', name: 'Industry' }) // 'Company: Industry'
 */
export function fieldName({ key, name }: Pick<Field, 'key' | 'name'>): string {
  const kind = kindOfField(key);
  return kind === 'lead' ? name : `${kind.charAt(0).toUpperCase()}${kind.slice(1)}: ${name}`;
}

/** The role of a field: the one it was given, or else the one that its key says. */
export function roleOf({ key, type, role }: Pick<Field, 'key' | 'type' | 'role'>): FieldRole | null {
  if (role !== undefined) return role;
  const said = FIELD_ROLES.find((one) => one === bareKey(key));
  return said !== undefined && ROLES_OF[kindOfField(key)][said]?.includes(type) ? said : null;
}

/** The field of tags of a kind: choices whose options are made on the fly. */
export function tagsOf(kind: RecordKind): string {
  return fieldKey(kind, 'tags');
}

/** The field of tags of leads. */
export const TAGS = tagsOf('lead');

/** The fields of tags, one for each kind. */
export const TAGS_FIELDS: readonly Field[] = RECORD_KINDS.map((kind) => ({
  key: tagsOf(kind),
  name: 'Tags',
  type: 'choices',
  options: [],
  role: null,
  retired: false,
}));

/** Whether whatever is named becomes an option of a field. */
export function takesAnyOption({ key }: Pick<Field, 'key'>): boolean {
  return bareKey(key) === 'tags';
}

/** Whether values of a type are chosen among options. */
export function isChosen(type: FieldType): boolean {
  return type === 'choice' || type === 'choices';
}

/** What the way of a lead computes by itself: readable in conditions, never entered, so no field may take these keys. */
export const COMPUTED = [
  'fit',
  'engagement',
  'rank',
  'fit_band',
  'engagement_band',
  'verdict',
  'stage',
  'territory',
] as const;
export type Computed = (typeof COMPUTED)[number];

/** Keys, without their kind, that ways in use for other things than fields. */
export const RESERVED_KEYS: ReadonlySet<string> = new Set([
  ...COMPUTED,
  'id',
  'owner',
  'queue',
  'place',
  'arrived',
  'status',
  'activities',
  'last_activity',
  'way_in',
  'days_in_stage',
  'hours_in_stage',
  'tags',
  'team',
]);

/** The roles that tell who a lead is: at least one of their fields must be filled for it to be taken in. */
export const IDENTIFYING: readonly FieldRole[] = ['email', 'name', 'company'];
