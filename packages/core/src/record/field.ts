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
] as const;
export type FieldType = (typeof FIELD_TYPES)[number];

/** Numbers keep four decimals, so that they compare exactly. */
export const NUMBER_DECIMALS = 4;

export interface Field {
  /** `[a-z][a-z0-9_]*`, never changed and never reused. */
  readonly key: string;
  readonly name: string;
  readonly type: FieldType;
  /** For a choice, and for choices: what may be chosen, in the order in which it is offered. */
  readonly options: readonly string[];
  /** Options that are no longer offered: records keep them. Missing: none. */
  readonly retiredOptions?: readonly string[];
  readonly retired: boolean;
  /** It tells who someone is: it does not leave the server with the population. Missing: no. */
  readonly personal?: boolean;
}

/** The field of tags: choices whose options are made on the fly. */
export const TAGS = 'tags';

export const TAGS_FIELD: Field = { key: TAGS, name: 'Tags', type: 'choices', options: [], retired: false };

/** Whether whatever is named becomes an option of a field. */
export function takesAnyOption({ key }: Pick<Field, 'key'>): boolean {
  return key === TAGS;
}

/** All fields by key. */
export type Catalogue = ReadonlyMap<string, Field>;

export const FIELD_KEY = /^[a-z][a-z0-9_]{0,47}$/;

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

/** Keys that ways in use for other things than fields. */
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
  'tags',
  'team',
]);

/** The fields that tell who it is: at least one of them must be filled for a lead to be taken in. */
export const IDENTIFYING = ['email', 'name', 'company'] as const;
