import type { RepKey, TeamKey, TerritoryKey } from '../record/keys';

/** Postal codes of a country that a territory covers: one, all that begin alike, or all between two of one length, both included. */
export type PostalCoverage = { readonly country: string } & (
  | { readonly kind: 'code'; readonly code: string }
  | { readonly kind: 'prefix'; readonly prefix: string }
  | { readonly kind: 'range'; readonly from: string; readonly to: string }
);

/** The colours in which territories are drawn; those of drafts and of faults are not among them. */
export const TERRITORY_COLOURS = [
  'deep',
  'tide',
  'kelp',
  'clay',
  'mist',
  'plum',
  'moss',
  'ochre',
  'slate',
  'foam',
] as const;
export type TerritoryColour = (typeof TERRITORY_COLOURS)[number];

/** A part of the ground, drawn once and used in routes. */
export interface Territory {
  readonly key: TerritoryKey;
  readonly name: string;
  /** A short name, for the map and files; null: none. */
  readonly code: string | null;
  /** Null: one by its place in the list. */
  readonly colour: TerritoryColour | null;
  /** The team that works it; null: none. */
  readonly team: TeamKey | null;
  /** The person responsible for it; null: nobody. */
  readonly manager: RepKey | null;
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

/** The members of a territory that define its ground. */
export type Drawn = Pick<Territory, 'key' | 'parent' | 'countries' | 'regions' | 'postalCodes'>;

/** The colours of territories: as chosen, else one after the other. */
export function coloursOf(
  territories: readonly Pick<Territory, 'key' | 'colour'>[],
): ReadonlyMap<TerritoryKey, TerritoryColour> {
  return new Map(
    territories.map(({ key, colour }, i) => [
      key,
      colour ?? (TERRITORY_COLOURS[i % TERRITORY_COLOURS.length] as TerritoryColour),
    ]),
  );
}

/** A territory, and how many others it lies inside. */
export interface TreePlace<T> {
  readonly territory: T;
  readonly depth: number;
}

/** Territories in the order of a tree: each followed by those inside it. Those in a circle of parents are left out. */
export function territoryTree<T extends Pick<Territory, 'key' | 'parent'>>(territories: readonly T[]): TreePlace<T>[] {
  const inside = new Map<TerritoryKey | null, T[]>();
  for (const one of territories) {
    const siblings = inside.get(one.parent);
    if (siblings === undefined) inside.set(one.parent, [one]);
    else siblings.push(one);
  }
  const below = (parent: TerritoryKey | null, depth: number): TreePlace<T>[] =>
    (inside.get(parent) ?? []).flatMap((territory) => [{ territory, depth }, ...below(territory.key, depth + 1)]);
  return below(null, 0);
}

/** How many territories a territory lies inside; a circle of parents ends where it began. */
export function depthOf(key: TerritoryKey, byKey: ReadonlyMap<TerritoryKey, Pick<Territory, 'parent'>>): number {
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

const insides = new WeakMap<
  readonly Pick<Territory, 'key' | 'parent'>[],
  ReadonlyMap<string, readonly TerritoryKey[]>
>();

/** By the key of each territory those that lie inside it at any depth, itself included. */
export function insideOf(
  territories: readonly Pick<Territory, 'key' | 'parent'>[],
): ReadonlyMap<string, readonly TerritoryKey[]> {
  const known = insides.get(territories);
  if (known !== undefined) return known;
  const parents = new Map(territories.map(({ key, parent }) => [key, parent]));
  const inside = new Map(territories.map(({ key }) => [key as string, [] as TerritoryKey[]]));
  for (const { key } of territories) {
    const passed = new Set<TerritoryKey>();
    for (let at: TerritoryKey | null = key; at !== null && !passed.has(at); at = parents.get(at) ?? null) {
      passed.add(at);
      inside.get(at)?.push(key);
    }
  }
  insides.set(territories, inside);
  return inside;
}
