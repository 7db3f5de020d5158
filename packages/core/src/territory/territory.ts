import type { TerritoryKey } from '../record/keys';

/** A part of the ground, drawn once and used in routes. */
export interface Territory {
  readonly key: TerritoryKey;
  readonly name: string;
  /** The territory inside which this one lies, or null. */
  readonly parent: TerritoryKey | null;
  /** Countries that it covers: alpha-2, alpha-3 or English name. */
  readonly countries: readonly string[];
}

/** How many territories a territory lies inside; a circle of parents ends where it began. */
export function depthOf(key: TerritoryKey, byKey: ReadonlyMap<TerritoryKey, Territory>): number {
  const passed = new Set<TerritoryKey>();
  for (let at = byKey.get(key)?.parent ?? null; at !== null && !passed.has(at); at = byKey.get(at)?.parent ?? null)
    passed.add(at);
  return passed.size;
}

/** By the key of each territory those that lie inside it at any depth, itself included. */
export function insideOf(territories: readonly Territory[]): ReadonlyMap<string, readonly TerritoryKey[]> {
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
