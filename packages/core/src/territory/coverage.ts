import type { TerritoryKey } from '../record/keys';
import { postalForm } from '../record/postal-code';
import { countryOfRegion, regionsAround } from '../record/region';
import { BLANK, type Value } from '../record/value';
import { type Claim, Claimants, ownGroundOf, postalClaimsOf, type PostalClaims } from './claims';
import type { AddressFields, Drawn } from './territory';

/** The claims of territories on all ground. */
export interface Coverage {
  /** By alpha-2. */
  readonly countries: ReadonlyMap<string, Claim>;
  /** By ISO 3166-2. */
  readonly regions: ReadonlyMap<string, Claim>;
  /** Countries of which a region is claimed. */
  readonly withRegions: ReadonlySet<string>;
  /** By alpha-2. */
  readonly postalCodes: ReadonlyMap<string, PostalClaims>;
}

export const NO_COVERAGE: Coverage = {
  countries: new Map(),
  regions: new Map(),
  withRegions: new Set(),
  postalCodes: new Map(),
};

/** Collects the claims of territories. Countries and regions that do not exist are ignored. */
export function coverageOf(territories: readonly Drawn[]): Coverage {
  const byKey = new Map(territories.map((one) => [one.key, one]));
  const [countries, regions] = [new Claimants(), new Claimants()];
  const postal = new Map<string, Drawn[]>();
  for (const territory of territories) {
    const own = ownGroundOf(territory);
    for (const country of own.countries) countries.add(country, territory.key);
    for (const region of own.regions) regions.add(region, territory.key);
    for (const country of own.postal.keys()) {
      const claimants = postal.get(country);
      if (claimants === undefined) postal.set(country, [territory]);
      else claimants.push(territory);
    }
  }
  const onRegions = regions.claims(byKey);
  return {
    countries: countries.claims(byKey),
    regions: onRegions,
    withRegions: new Set([...onRegions.keys()].map(countryOfRegion)),
    postalCodes: new Map(
      [...postal].map(([country, claimants]) => [country, postalClaimsOf(country, claimants, byKey)]),
    ),
  };
}

/** The address by which a territory is found. */
export interface Address {
  readonly country: Value;
  readonly region: Value;
  readonly postalCode: Value;
}

/** The address of a record, by the fields that hold its parts. */
export function addressOf(
  { field, regionField, postalField }: AddressFields,
  valueOf: (field: string) => Value,
): Address {
  const part = (key: string | null): Value => (key === null ? BLANK : valueOf(key));
  return { country: part(field), region: part(regionField), postalCode: part(postalField) };
}

export type AddressPart = keyof Address;

export type TerritoryAnswer =
  /** `by`: the part of the address that told it; missing: its country. */
  | { readonly found: 'covered'; readonly territory: TerritoryKey; readonly by?: 'region' | 'postalCode' }
  | { readonly found: 'pinned'; readonly territory: TerritoryKey }
  /** No territory covers the address, or no country is given. */
  | { readonly found: 'open-ground' | 'no-address' }
  /** `part`: what can't be read; missing: the country. */
  | { readonly found: 'unjudged'; readonly raw: string; readonly part?: 'region' | 'postalCode' };

/** The claim on a postal code of a country; null: none. */
export function claimOnPostal({ codes, rangeOf, prefixes }: PostalClaims, code: string): Claim | null {
  const single = codes.get(code);
  if (single !== undefined) return single;
  const range = rangeOf.find(code);
  if (range !== null) return range;
  for (let length = code.length; length > 0; length -= 1) {
    const claim = prefixes.get(code.slice(0, length));
    if (claim !== undefined) return claim;
  }
  return null;
}

/** The claim on a region, or on one around it; null: none. */
export function claimOnRegion({ regions }: Coverage, region: string): Claim | null {
  return firstClaim(regions, regionsAround(region));
}

/** The claim that counts for a region without one of its own: on a region around it, or on its country; null: none. */
export function claimAround({ regions, countries }: Coverage, region: string): Claim | null {
  const [, ...around] = regionsAround(region);
  return firstClaim(regions, around) ?? countries.get(countryOfRegion(region)) ?? null;
}

function firstClaim(claims: ReadonlyMap<string, Claim>, codes: readonly string[]): Claim | null {
  for (const code of codes) {
    const claim = claims.get(code);
    if (claim !== undefined) return claim;
  }
  return null;
}

/**
 * The territory of a record: its pin, else the one that covers its address most specifically: a postal code before a range, a range
 * before a prefix, a longer prefix before a shorter one, these before a region, a region before the one around it, and before its
 * country. A part that can't be read is passed over where no territory asks for it.
 */
export function territoryOf(coverage: Coverage, pin: TerritoryKey | null, address: Address): TerritoryAnswer {
  if (pin !== null) return { found: 'pinned', territory: pin };
  const { country, region } = address;
  if (country.kind === 'unreadable') return { found: 'unjudged', raw: country.raw };
  const at = countryOf(address);
  if (at === null)
    return region.kind === 'unreadable' && coverage.regions.size > 0
      ? { found: 'unjudged', raw: region.raw, part: 'region' }
      : { found: 'no-address' };
  const postal = byPostalCode(coverage, address);
  if (postal !== null) return postal;
  if (coverage.withRegions.has(at)) {
    if (region.kind === 'unreadable') return { found: 'unjudged', raw: region.raw, part: 'region' };
    const isThere = region.kind === 'text' && countryOfRegion(region.text) === at;
    const claim = isThere ? claimOnRegion(coverage, region.text) : null;
    if (claim !== null) return { found: 'covered', territory: claim.keys[0] as TerritoryKey, by: 'region' };
  }
  const claim = coverage.countries.get(at);
  return claim === undefined
    ? { found: 'open-ground' }
    : { found: 'covered', territory: claim.keys[0] as TerritoryKey };
}

/** The country of an address: as it is given, else that of its region; null: it has none, or one that can't be read. */
export function countryOf({ country, region }: Pick<Address, 'country' | 'region'>): string | null {
  if (country.kind === 'text') return country.text;
  return country.kind === 'blank' && region.kind === 'text' ? countryOfRegion(region.text) : null;
}

/** A postal code as it was read, in the form that its country has: one that came before its country was known may be longer. */
export function codeIn(country: string | null, code: string): string {
  return code.length > 5 && country === 'US' ? postalForm(code, country) : code;
}

/** The territory by the postal code alone; null: none, so that region and country are asked. */
export function byPostalCode(coverage: Coverage, address: Address): TerritoryAnswer | null {
  const at = countryOf(address);
  const claims = at === null ? undefined : coverage.postalCodes.get(at);
  if (claims === undefined) return null;
  const { postalCode } = address;
  if (postalCode.kind === 'unreadable') return { found: 'unjudged', raw: postalCode.raw, part: 'postalCode' };
  const claim = postalCode.kind === 'text' ? claimOnPostal(claims, codeIn(at, postalCode.text)) : null;
  return claim === null ? null : { found: 'covered', territory: claim.keys[0] as TerritoryKey, by: 'postalCode' };
}
