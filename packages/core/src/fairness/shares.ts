import type { Skipped } from '../method/method';
import type { Exclusion } from '../people/eligible';
import type { RepKey } from '../record/keys';
import { jainIndex } from './jain';

/** One lead that a route gave to someone. */
export interface Placement {
  /** Null: nobody was free, and it waited. */
  readonly rep: RepKey | null;
  /** Those passed over for it, with the reasons. */
  readonly skipped: readonly Skipped[];
}

/** Someone to whom a route leads, and their share in it. */
export interface Sharer {
  readonly rep: RepKey;
  /** 1 where the route's method knows no weights. */
  readonly weight: number;
}

/** A person's expected and actual number of a route's leads. */
export interface RepShare extends Sharer {
  /** The part of the leads that their weight stands for. */
  readonly should: number;
  readonly got: number;
  /** How often they were passed over, by reason, most often first. */
  readonly passedOver: readonly { readonly why: Exclusion['why']; readonly leads: number }[];
}

export interface Shares {
  /** Leads that the route gave to someone. */
  readonly given: number;
  /** Leads for which nobody was free. */
  readonly waited: number;
  /** Those to whom it leads, in their order, then those who got some and are no longer among them. */
  readonly shares: readonly RepShare[];
  /** Jain's index of what each got for their weight; null: fewer than two share, or nobody got any. */
  readonly index: number | null;
}

/**
 * Expected and actual leads of each person on a route: of N leads, the expected part of weight wᵢ is
 * N · wᵢ / Σw. A person who is passed over loses the turn, so the counted reasons explain the difference.
 *
 * @param sharers those to whom the route leads now; who may take no leads has no share
 */
export function sharesOf(sharers: readonly Sharer[], placements: readonly Placement[]): Shares {
  const got = new Map<RepKey, number>();
  const passedOver = new Map<RepKey, Map<Exclusion['why'], number>>();
  let given = 0;
  for (const { rep, skipped } of placements) {
    if (rep !== null) {
      given += 1;
      got.set(rep, (got.get(rep) ?? 0) + 1);
    }
    for (const { rep: who, exclusion } of skipped) {
      const reasons = passedOver.get(who) ?? new Map<Exclusion['why'], number>();
      reasons.set(exclusion.why, (reasons.get(exclusion.why) ?? 0) + 1);
      passedOver.set(who, reasons);
    }
  }
  const weights = sharers.reduce((sum, { weight }) => sum + weight, 0);
  const known = new Set(sharers.map(({ rep }) => rep));
  const gone = [...got.keys()].filter((rep) => !known.has(rep)).map((rep): Sharer => ({ rep, weight: 0 }));
  const shares = [...sharers, ...gone].map(({ rep, weight }): RepShare => ({
    ...{ rep, weight, got: got.get(rep) ?? 0 },
    should: weights === 0 ? 0 : (given * weight) / weights,
    passedOver: [...(passedOver.get(rep) ?? [])]
      .map(([why, leads]) => ({ why, leads }))
      .sort((a, b) => b.leads - a.leads || (a.why < b.why ? -1 : 1)),
  }));
  const weighed = shares.filter(({ weight }) => weight > 0);
  return {
    ...{ given, waited: placements.length - given, shares },
    index: weighed.length < 2 ? null : jainIndex(weighed.map((one) => one.got / one.weight)),
  };
}
