import { type Catalogue, keyOfRole } from './catalogue';
import type { Field } from './field';
import { countryCode } from './country';
import type { RecordKind } from './kind';
import type { Value } from './value';

/**
 * The country by which a field of a record is read; null: it is read by none, or none is known.
 *
 * Regions and postal codes are read by the country that is written with them, else by the one that the record has.
 *
 * @param written what came in, by field
 * @param known the values that the record has
 */
export function countryToReadBy(
  { type }: Pick<Field, 'type'>,
  catalogue: Catalogue,
  kind: RecordKind,
  written: (field: string) => unknown,
  known: ReadonlyMap<string, Value> = new Map(),
): string | null {
  if (type !== 'region' && type !== 'postal-code') return null;
  const key = keyOfRole(catalogue, kind, 'country');
  if (key === null) return null;
  const now = written(key);
  if (typeof now === 'string' && now.trim() !== '') return countryCode(now, catalogue.get(key)?.spellings) ?? null;
  if (now !== undefined) return null;
  const value = known.get(key);
  return value?.kind === 'text' ? value.text : null;
}
