import {
  bareKey,
  type Field,
  type FieldRole,
  kindOfField,
  RESERVED_KEYS,
  roleOf,
  ROLES_OF,
  takesAnyOption,
  TAGS_FIELDS,
} from './field';
import { HOPS, type RecordKind } from './kind';
import type { OwnRegion } from './region';

/** All fields by key. */
export type Catalogue = ReadonlyMap<string, Field>;

/** The fields of one kind of records, in the order of the catalogue. */
export function fieldsOf(catalogue: Catalogue, kind: RecordKind): Field[] {
  return [...catalogue.values()].filter(({ key }) => kindOfField(key) === kind);
}

/**
 * The fields that the conditions of a kind may read: its own, and across one hop those of its contact and company.
 */
export function readableFields(catalogue: Catalogue, kind: RecordKind): Catalogue {
  const kinds: readonly RecordKind[] = [kind, ...HOPS[kind]];
  return new Map([...catalogue].filter(([key]) => kinds.includes(kindOfField(key))));
}

/** The key of the field of a kind that has a role; null: no field has it. */
export function keyOfRole(catalogue: Catalogue, kind: RecordKind, role: FieldRole): string | null {
  for (const field of catalogue.values())
    if (roleOf(field) === role && kindOfField(field.key) === kind && !field.retired) return field.key;
  return null;
}

/** Fields by key; those of tags are always among them. */
export function withTags(fields: readonly Field[]): Catalogue {
  const byKey = new Map(fields.map((one) => [one.key, one]));
  for (const tags of TAGS_FIELDS) if (!byKey.has(tags.key)) byKey.set(tags.key, tags);
  return byKey;
}

/** The regions that the admin added, by any field that holds regions. */
export function ownRegionsIn(catalogue: Catalogue): readonly OwnRegion[] {
  for (const { ownRegions } of catalogue.values()) if (ownRegions !== undefined) return ownRegions;
  return NO_REGIONS;
}

const NO_REGIONS: readonly OwnRegion[] = [];

/** A problem of a field with regard to the others. */
export interface FieldProblem {
  readonly at: 'key' | 'type' | 'role' | 'feeds';
  readonly message: string;
}

/** Checks a field against the others: its key is free, no other has its role, its feed target exists and has its type. */
export function fieldProblems(field: Field, catalogue: Catalogue): FieldProblem[] {
  const { key, type, feeds } = field;
  const kind = kindOfField(key);
  const problems: FieldProblem[] = [];
  const say = (at: FieldProblem['at'], message: string): void => void problems.push({ at, message });
  if (takesAnyOption(field)) {
    if (type !== 'choices') say('type', 'must be choices: tags are several at once');
    return problems;
  }
  if (RESERVED_KEYS.has(bareKey(key))) say('key', `is kept for what Relvik computes: ${key}`);
  const role = roleOf(field);
  if (role !== null) {
    const types = ROLES_OF[kind][role];
    if (types === undefined) say('role', `is no role of a ${kind}’s field: ${role}`);
    else if (!types.includes(type)) say('role', `is that of a field that holds ${types.join(' or ')}: ${role}`);
    const other = keyOfRole(catalogue, kind, role);
    if (other !== null && other !== key && !field.retired) say('role', `stands already, on ${other}: ${role}`);
  }
  if (feeds != null) {
    const target = catalogue.get(feeds);
    if (kind !== 'lead') say('feeds', 'is for fields of leads only');
    else if (target === undefined || !isFed(kindOfField(feeds)))
      say('feeds', `is no field of contacts or companies: ${feeds}`);
    else if (target.type !== type) say('feeds', `holds ${target.type}, not ${type}: ${feeds}`);
  }
  return problems;
}

function isFed(kind: RecordKind): boolean {
  return HOPS.lead.some((tie) => tie === kind);
}
