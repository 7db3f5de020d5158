import { countryCode } from '../record/country';
import type { TerritoryKey } from '../record/keys';
import { postalForm } from '../record/postal-code';
import { RangeIndex } from './range-index';
import { aroundOf, type Drawn, type PostalCoverage } from './territory';

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

/** The ground of one rank that a claim is on. */
export type Ground =
  | { readonly kind: 'country'; readonly country: string }
  | { readonly kind: 'region'; readonly region: string }
  | { readonly kind: 'postal'; readonly coverage: PostalCoverage };

type Covers = Pick<Drawn, 'countries' | 'regions' | 'postalCodes'>;
type ByKey = ReadonlyMap<TerritoryKey, Drawn>;

/** The ground of a territory in the form in which it is compared. */
interface OwnGround {
  /** Alpha-2. */
  readonly countries: readonly string[];
  /** ISO 3166-2. */
  readonly regions: readonly string[];
  /** By country. */
  readonly postal: ReadonlyMap<string, readonly PostalCoverage[]>;
  /** All of it. */
  readonly grounds: readonly Ground[];
}

/** It is kept with each territory: an edit of one leaves thousands of others as they are. */
const ownGrounds = new WeakMap<Covers, OwnGround>();

/** The ground that a territory covers. Countries that do not exist are left out. */
export function ownGroundOf(covers: Covers): OwnGround {
  const known = ownGrounds.get(covers);
  if (known !== undefined) return known;
  const countries = covers.countries.flatMap((written) => countryCode(written) ?? []);
  const coverages = covers.postalCodes.map(plainPostal);
  const postal = new Map<string, PostalCoverage[]>();
  for (const coverage of coverages) {
    const own = postal.get(coverage.country);
    if (own === undefined) postal.set(coverage.country, [coverage]);
    else own.push(coverage);
  }
  const grounds = [
    ...countries.map((country): Ground => ({ kind: 'country', country })),
    ...covers.regions.map((region): Ground => ({ kind: 'region', region })),
    ...coverages.map((coverage): Ground => ({ kind: 'postal', coverage })),
  ];
  const ground = { countries, regions: covers.regions, postal, grounds };
  ownGrounds.set(covers, ground);
  return ground;
}

/** The grounds that a territory covers, in the form in which they are compared. */
export function groundsOf(covers: Covers): readonly Ground[] {
  return ownGroundOf(covers).grounds;
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

/** Collects who claims what, in the order of territories. */
export class Claimants {
  private readonly keys = new Map<string, TerritoryKey[]>();

  add(ground: string, key: TerritoryKey): void {
    const own = this.keys.get(ground);
    if (own === undefined) this.keys.set(ground, [key]);
    else if (!own.includes(key)) own.push(key);
  }

  claims(byKey: ByKey): Map<string, Claim> {
    return new Map([...this.keys].map(([ground, keys]) => [ground, claimOf(keys, byKey)]));
  }
}

/** Those come first inside which no other claimant lies, by key; a territory inside another counts before it. */
function claimOf(keys: readonly TerritoryKey[], byKey: ByKey): Claim {
  if (keys.length === 1) return { keys, equal: 1 };
  const isAround = (key: TerritoryKey): boolean =>
    keys.some((other) => other !== key && aroundOf(other, byKey).includes(key));
  const sorted = [...keys].sort((a, b) => (a < b ? -1 : 1));
  const inner = sorted.filter((key) => !isAround(key));
  // In a circle of parents all lie around all: they have the same right.
  const first = inner.length === 0 ? sorted : inner;
  return { keys: [...first, ...sorted.filter((key) => !first.includes(key))], equal: first.length };
}

/** The claims of a country, and the territories that they were made of. */
interface Made {
  readonly country: string;
  readonly claimants: readonly Drawn[];
  readonly around: readonly string[];
  readonly claims: PostalClaims;
}

/** By the first claimant. So many are kept: those of the charter in force, and of the last drafts. */
const made = new WeakMap<Drawn, Made[]>();
const KEPT = 8;

/**
 * The claims on postal codes of a country. They are kept as long as its claimants are the same: an edit elsewhere leaves them as
 * they are.
 *
 * @param claimants the territories that cover postal codes of it, in order
 */
export function postalClaimsOf(country: string, claimants: readonly Drawn[], byKey: ByKey): PostalClaims {
  const [first] = claimants;
  const around = claimants.map(({ key, parent }) => (parent === null ? '' : aroundOf(key, byKey).join(' ')));
  const known = (first === undefined ? null : made.get(first)) ?? [];
  const same = known.find(
    (one) => one.country === country && haveSame(one.claimants, claimants) && haveSame(one.around, around),
  );
  if (same !== undefined) return same.claims;
  const claims = makePostalClaims(country, claimants, byKey);
  if (first !== undefined) made.set(first, [{ country, claimants, around, claims }, ...known.slice(0, KEPT - 1)]);
  return claims;
}

function haveSame<T>(one: readonly T[], other: readonly T[]): boolean {
  return one.length === other.length && one.every((part, i) => part === other[i]);
}

function makePostalClaims(country: string, claimants: readonly Drawn[], byKey: ByKey): PostalClaims {
  const [codes, prefixes, ranges] = [new Claimants(), new Claimants(), new Claimants()];
  for (const territory of claimants)
    for (const coverage of ownGroundOf(territory).postal.get(country) ?? [])
      switch (coverage.kind) {
        case 'code':
          codes.add(coverage.code, territory.key);
          break;
        case 'prefix':
          prefixes.add(coverage.prefix, territory.key);
          break;
        case 'range':
          ranges.add(`${coverage.from} ${coverage.to}`, territory.key);
      }
  const inOrder = sortedByInner(
    [...ranges.claims(byKey)].map(([ends, claim]) => {
      const [from = '', to = ''] = ends.split(' ');
      return { ...claim, from, to };
    }),
    byKey,
  );
  return {
    codes: codes.claims(byKey),
    ranges: inOrder,
    rangeOf: new RangeIndex(inOrder),
    prefixes: prefixes.claims(byKey),
  };
}

/** A range inside another comes before it; of two that only cross, the one whose territory lies inside the other's, then the smaller key. */
function sortedByInner(ranges: readonly RangeClaim[], byKey: ByKey): RangeClaim[] {
  const widths = new Map(ranges.map((one) => [one, Number.parseInt(one.to, 36) - Number.parseInt(one.from, 36)]));
  const widthOf = (one: RangeClaim): number => widths.get(one) ?? 0;
  return [...ranges].sort((a, b) => {
    const isInner = lies(a, b);
    if (isInner !== lies(b, a)) return isInner ? -1 : 1;
    const width = widthOf(a) - widthOf(b);
    if (width !== 0) return width;
    const [first, second] = [a.keys[0] as TerritoryKey, b.keys[0] as TerritoryKey];
    const depth = aroundOf(second, byKey).length - aroundOf(first, byKey).length;
    return depth || (first < second ? -1 : 1);
  });
}

function lies(inner: Pick<RangeClaim, 'from' | 'to'>, outer: Pick<RangeClaim, 'from' | 'to'>): boolean {
  return inner.from.length === outer.from.length && inner.from >= outer.from && inner.to <= outer.to;
}
