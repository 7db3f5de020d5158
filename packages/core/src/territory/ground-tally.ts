import type { TerritoryKey } from '../record/keys';
import { countryOfRegion } from '../record/region';
import type { Claim } from './claims';
import { claimOnRegion, type Coverage } from './coverage';

/** How many leads there are, and what became of them. */
export interface Tally {
  readonly leads: number;
  readonly open: number;
  readonly won: number;
  /** Won and lost. */
  readonly closed: number;
  /** Amounts of the open leads together, in minor units of the base currency; those without a rate are left out. */
  readonly value: number;
}

/** Leads of one country, of one of its regions or of none that is known, that lie in one territory or in none. */
export interface GroundCount extends Tally {
  /** Alpha-2. */
  readonly country: string;
  readonly region: string | null;
  readonly territory: TerritoryKey | null;
}

export const NO_LEADS: Tally = { leads: 0, open: 0, won: 0, closed: 0, value: 0 };

function plus(a: Tally, b: Tally): Tally {
  return {
    leads: a.leads + b.leads,
    open: a.open + b.open,
    won: a.won + b.won,
    closed: a.closed + b.closed,
    value: a.value + b.value,
  };
}

/** Adds counts up under a key; those with the key null are left out. */
export function tallyBy(
  counts: readonly GroundCount[],
  keyOf: (count: GroundCount) => string | null,
): ReadonlyMap<string, Tally> {
  const tallies = new Map<string, Tally>();
  for (const count of counts) {
    const key = keyOf(count);
    if (key !== null) tallies.set(key, plus(tallies.get(key) ?? NO_LEADS, count));
  }
  return tallies;
}

/** Leads by the code of their country, and by that of their region. */
export function tallyGrounds(counts: readonly GroundCount[]): ReadonlyMap<string, Tally> {
  return new Map([...tallyBy(counts, ({ country }) => country), ...tallyBy(counts, ({ region }) => region)]);
}

/** The claim that counts on a country or region as a whole: its own, or that of what is around it; null: open ground. */
export function claimOnGround(coverage: Coverage, code: string): Claim | null {
  if (!code.includes('-')) return coverage.countries.get(code) ?? null;
  return claimOnRegion(coverage, code) ?? coverage.countries.get(countryOfRegion(code)) ?? null;
}

/** Leads that leave or enter a territory; the key is empty for open ground. */
export interface GroundMove {
  readonly territory: TerritoryKey | '';
  /** Below zero: they leave. */
  readonly leads: number;
  readonly open: number;
  /** Of the open ones, as in {@link Tally}. */
  readonly value: number;
}

/**
 * The leads that change territory between two coverages, by territory: those that leave first.
 *
 * Leads that lie in another territory than their country and region tell, by their postal code or pinned, are taken to stay.
 *
 * @param counts with the territories in force
 */
export function movesBetween(
  counts: readonly GroundCount[],
  inForce: Coverage,
  before: Coverage,
  after: Coverage,
): readonly GroundMove[] {
  const codeOf = ({ country, region }: GroundCount): string => region ?? country;
  const ownerOf = (coverage: Coverage, count: GroundCount): TerritoryKey | '' =>
    claimOnGround(coverage, codeOf(count))?.keys[0] ?? '';
  const moving = counts.filter(
    (count) => (count.territory ?? '') === ownerOf(inForce, count) && ownerOf(before, count) !== ownerOf(after, count),
  );
  const left = tallyBy(moving, (count) => ownerOf(before, count));
  const come = tallyBy(moving, (count) => ownerOf(after, count));
  return [
    ...[...left].map(([territory, { leads, open, value }]) => ({
      territory: territory as TerritoryKey,
      leads: -leads,
      open: -open,
      value: -value,
    })),
    ...[...come].map(([territory, { leads, open, value }]) => ({
      territory: territory as TerritoryKey,
      leads,
      open,
      value,
    })),
  ];
}

/** Leads on ground that no territory covers, by the code of their region where it is told, else of their country; most first. */
export function openGroundIn(
  counts: readonly GroundCount[],
  coverage: Coverage,
): readonly (Tally & { readonly code: string })[] {
  const codeOf = ({ country, region }: GroundCount): string =>
    region !== null && coverage.withRegions.has(country) ? region : country;
  const open = tallyBy(counts, (count) => {
    const code = codeOf(count);
    return count.territory === null && claimOnGround(coverage, code) === null ? code : null;
  });
  return [...open].map(([code, tally]) => ({ code, ...tally })).sort((a, b) => b.leads - a.leads);
}
