import { countryCode } from '../record/country';
import type { TerritoryKey } from '../record/keys';
import { postalForm } from '../record/postal-code';
import { countryOfRegion, regionsAround } from '../record/region';
import { BLANK, type Value } from '../record/value';
import { RangeIndex } from './range-index';
import { type AddressFields, aroundOf, type Drawn, type PostalCoverage } from './territory';

/** The territories that claim the same ground; the first counts. */
export interface Claim {
  readonly keys: readonly TerritoryKey[];
  /** How many of the first have the same right to it: more than one overlap. */
  readonly equal: number;
}

/** A range of postal codes of one length, both ends included. */
export interface RangeClaim extends Claim {
  readonly from: string;
  readonly to: string;
}

/** The claims on postal codes of one country. */
export interface PostalClaims {
  readonly codes: ReadonlyMap<string, Claim>;
  /** The narrowest first: of two of which one lies inside the other the inner one counts. */
  readonly ranges: readonly RangeClaim[];
  readonly rangeOf: RangeIndex<RangeClaim>;
  readonly prefixes: ReadonlyMap<string, Claim>;
}

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

/** The ground of one rank that a claim is on. */
export type Ground =
  | { readonly kind: 'country'; readonly country: string }
  | { readonly kind: 'region'; readonly region: string }
  | { readonly kind: 'postal'; readonly coverage: PostalCoverage };

interface PostalDraft {
  readonly codes: Map<string, Claim>;
  readonly ranges: RangeClaim[];
  readonly prefixes: Map<string, Claim>;
}

/** Collects the claims of territories. Countries and regions that do not exist are ignored. */
export function coverageOf(territories: readonly Drawn[]): Coverage {
  const byKey = new Map(territories.map((one) => [one.key, one]));
  const claims = new Map<string, { readonly ground: Ground; readonly keys: TerritoryKey[] }>();
  for (const territory of territories)
    for (const { ground, id } of namedGrounds(territory)) {
      const own = claims.get(id);
      if (own === undefined) claims.set(id, { ground, keys: [territory.key] });
      else if (!own.keys.includes(territory.key)) own.keys.push(territory.key);
    }
  const countries = new Map<string, Claim>();
  const regions = new Map<string, Claim>();
  const postal = new Map<string, PostalDraft>();
  for (const { ground, keys } of claims.values()) {
    const claim = keys.length === 1 ? { keys, equal: 1 } : claimOf(keys, byKey);
    switch (ground.kind) {
      case 'country':
        countries.set(ground.country, claim);
        break;
      case 'region':
        regions.set(ground.region, claim);
        break;
      case 'postal': {
        const { coverage } = ground;
        const own: PostalDraft = postal.get(coverage.country) ?? { codes: new Map(), ranges: [], prefixes: new Map() };
        postal.set(coverage.country, own);
        if (coverage.kind === 'code') own.codes.set(coverage.code, claim);
        else if (coverage.kind === 'prefix') own.prefixes.set(coverage.prefix, claim);
        else own.ranges.push({ ...claim, from: coverage.from, to: coverage.to });
      }
    }
  }
  const postalCodes = new Map(
    [...postal].map(([country, { codes, ranges, prefixes }]): [string, PostalClaims] => {
      ranges.sort(byInner(byKey));
      return [country, { codes, ranges, prefixes, rangeOf: new RangeIndex(ranges) }];
    }),
  );
  return { countries, regions, withRegions: new Set([...regions.keys()].map(countryOfRegion)), postalCodes };
}

interface NamedGround {
  readonly ground: Ground;
  /** The same for all territories that cover it. */
  readonly id: string;
}

/** The ground of territories. It is kept with them: an edit of one territory leaves thousands of others as they are. */
const known = new WeakMap<Covers, readonly NamedGround[]>();
type Covers = Pick<Drawn, 'countries' | 'regions' | 'postalCodes'>;

function namedGrounds(covers: Covers): readonly NamedGround[] {
  const before = known.get(covers);
  if (before !== undefined) return before;
  const grounds: Ground[] = [
    ...covers.countries.flatMap((written): Ground[] => {
      const country = countryCode(written);
      return country === undefined ? [] : [{ kind: 'country', country }];
    }),
    ...covers.regions.map((region): Ground => ({ kind: 'region', region })),
    ...covers.postalCodes.map((coverage): Ground => ({ kind: 'postal', coverage: plainPostal(coverage) })),
  ];
  const named = grounds.map((ground) => ({ ground, id: JSON.stringify(ground) }));
  known.set(covers, named);
  return named;
}

/** The grounds that a territory covers, in the form in which they are compared. */
export function groundsOf(covers: Covers): Ground[] {
  return namedGrounds(covers).map(({ ground }) => ground);
}

/** Codes as they are compared. */
function plainPostal(coverage: PostalCoverage): PostalCoverage {
  const country = countryCode(coverage.country) ?? coverage.country;
  const form = (code: string): string => postalForm(code, country);
  switch (coverage.kind) {
    case 'code':
      return { kind: 'code', country, code: form(coverage.code) };
    case 'prefix':
      return { kind: 'prefix', country, prefix: form(coverage.prefix) };
    case 'range':
      return { kind: 'range', country, from: form(coverage.from), to: form(coverage.to) };
  }
}

/** Those come first inside which no other claimant lies, by key; a territory inside another counts before it. */
function claimOf(keys: readonly TerritoryKey[], byKey: ReadonlyMap<TerritoryKey, Drawn>): Claim {
  const isAround = (key: TerritoryKey): boolean =>
    keys.some((other) => other !== key && aroundOf(other, byKey).includes(key));
  const sorted = [...keys].sort((a, b) => (a < b ? -1 : 1));
  const inner = sorted.filter((key) => !isAround(key));
  // In a circle of parents all lie around all: they have the same right.
  const first = inner.length === 0 ? sorted : inner;
  return { keys: [...first, ...sorted.filter((key) => !first.includes(key))], equal: first.length };
}

/** A range inside another comes before it; of two that only cross, the one whose territory lies inside the other's, then the smaller key. */
function byInner(byKey: ReadonlyMap<TerritoryKey, Drawn>): (a: RangeClaim, b: RangeClaim) => number {
  const widthOf = ({ from, to }: RangeClaim): number => Number.parseInt(to, 36) - Number.parseInt(from, 36);
  return (a, b) => {
    const isInner = lies(a, b);
    if (isInner !== lies(b, a)) return isInner ? -1 : 1;
    const width = widthOf(a) - widthOf(b);
    if (width !== 0) return width;
    const [first, second] = [a.keys[0] as TerritoryKey, b.keys[0] as TerritoryKey];
    const depth = aroundOf(second, byKey).length - aroundOf(first, byKey).length;
    return depth || (first < second ? -1 : 1);
  };
}

function lies(inner: Pick<RangeClaim, 'from' | 'to'>, outer: Pick<RangeClaim, 'from' | 'to'>): boolean {
  return inner.from.length === outer.from.length && inner.from >= outer.from && inner.to <= outer.to;
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
