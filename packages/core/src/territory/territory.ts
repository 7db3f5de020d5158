import type { TerritoryKey } from '../record/keys';

/** Postal codes of a country that a territory covers: one, all that begin alike, or all between two of one length, both included. */
export type PostalCoverage = { readonly country: string } & (
  | { readonly kind: 'code'; readonly code: string }
  | { readonly kind: 'prefix'; readonly prefix: string }
  | { readonly kind: 'range'; readonly from: string; readonly to: string }
);

/** A part of the ground, drawn once and used in routes. */
export interface Territory {
  readonly key: TerritoryKey;
  readonly name: string;
  /** The territory inside which this one lies, or null. */
  readonly parent: TerritoryKey | null;
  /** Countries that it covers: alpha-2, alpha-3 or a name. */
  readonly countries: readonly string[];
  /** Regions that it covers: ISO 3166-2. */
  readonly regions: readonly string[];
  readonly postalCodes: readonly PostalCoverage[];
}

/** The fields by which territories are found; null: no field holds this part of the address. */
export interface AddressFields {
  readonly field: string;
  readonly regionField: string | null;
  readonly postalField: string | null;
}

/** The keys of those fields. */
export function addressFields({ field, regionField, postalField }: AddressFields): readonly (string | null)[] {
  return [field, regionField, postalField];
}

/** How many territories a territory lies inside; a circle of parents ends where it began. */
export function depthOf(key: TerritoryKey, byKey: ReadonlyMap<TerritoryKey, Territory>): number {
  return aroundOf(key, byKey).length;
}

/** The territories inside which one lies, the nearest first; a circle of parents ends where it began. */
export function aroundOf(
  key: TerritoryKey,
  byKey: ReadonlyMap<TerritoryKey, Pick<Territory, 'parent'>>,
): readonly TerritoryKey[] {
  const passed: TerritoryKey[] = [];
  for (let at = byKey.get(key)?.parent ?? null; at !== null && !passed.includes(at); at = byKey.get(at)?.parent ?? null)
    passed.push(at);
  return passed;
}

/** By the key of each territory those that lie inside it at any depth, itself included. */
export function insideOf(
  territories: readonly Pick<Territory, 'key' | 'parent'>[],
): ReadonlyMap<string, readonly TerritoryKey[]> {
  const parents = new Map(territories.map(({ key, parent }) => [key, parent]));
  const inside = new Map(territories.map(({ key }) => [key as string, [] as TerritoryKey[]]));
  for (const { key } of territories) {
    const passed = new Set<TerritoryKey>();
    for (let at: TerritoryKey | null = key; at !== null && !passed.has(at); at = parents.get(at) ?? null) {
      passed.add(at);
      inside.get(at)?.push(key);
    }
  }
  return inside;
}
