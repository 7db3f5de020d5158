import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import type { Value } from '../record/value';
import { depthOf, type Territory } from './territory';

/** Which territories claim each country, by folded alpha-2 code; the one that counts first. */
export type Coverage = ReadonlyMap<string, readonly TerritoryKey[]>;

/**
 * Lays out who claims which country.
 *
 * @param codeOf from a country as written to its alpha-2 code, or `undefined`
 * @returns for each country the claiming territories: one inside another counts before it, and of equals the smaller key
 */
export function coverageOf(
  territories: readonly Territory[],
  codeOf: (country: string) => string | undefined,
): Coverage {
  const byKey = new Map(territories.map((t) => [t.key, t]));
  const claims = new Map<string, TerritoryKey[]>();
  for (const territory of territories) {
    for (const country of territory.countries) {
      const code = codeOf(country);
      if (code === undefined) continue;
      const claimed = claims.get(fold(code)) ?? [];
      if (!claimed.includes(territory.key)) claimed.push(territory.key);
      claims.set(fold(code), claimed);
    }
  }
  for (const keys of claims.values()) keys.sort((a, b) => depthOf(b, byKey) - depthOf(a, byKey) || (a < b ? -1 : 1));
  return claims;
}

export type TerritoryAnswer =
  | { readonly found: 'covered' | 'pinned'; readonly territory: TerritoryKey }
  /** No territory covers the country, or no country is given. */
  | { readonly found: 'open-ground' | 'no-address' }
  | { readonly found: 'unjudged'; readonly raw: string };

/** The territory of a record: its pin, else the one that covers its country. */
export function territoryOf(coverage: Coverage, pin: TerritoryKey | null, country: Value): TerritoryAnswer {
  if (pin !== null) return { found: 'pinned', territory: pin };
  switch (country.kind) {
    case 'unreadable':
      return { found: 'unjudged', raw: country.raw };
    case 'text': {
      const territory = coverage.get(country.folded)?.[0];
      return territory === undefined ? { found: 'open-ground' } : { found: 'covered', territory };
    }
    default:
      return { found: 'no-address' };
  }
}
