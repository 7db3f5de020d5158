import type { Rep, Turn } from '../people/people';
import type { RepKey } from '../record/keys';
import { type Choice, type Choosing, foremost, sift } from './method';

/** Weights have two decimals. */
const UNIT = 100;

/** A rep's weight in hundredths. */
function weightOf(rep: Rep | undefined): number {
  return Math.round((rep?.weight ?? 1) * UNIT);
}

/**
 * Chooses by the smooth weighted sequence: everyone who is eligible earns their weight, whoever has most then is chosen and gives back what all
 * earned. Over a whole cycle each is chosen as often as their weight says, spread out rather than in a row.
 *
 * Who is not eligible is left out of that choice and earns nothing. Newcomers begin at 0.
 *
 * Source: the smooth weighted round robin published with the nginx server.
 */
export function weighted(choosing: Choosing): Choice {
  const { members, turn, people } = choosing;
  const { eligible, skipped } = sift(choosing);
  if (eligible.length === 0) return { chosen: null, skipped, turn };
  const credits = creditsOf(turn);
  let earned = 0;
  for (const rep of eligible) {
    const weight = weightOf(people.reps.get(rep));
    earned += weight;
    credits.set(rep, (credits.get(rep) ?? 0) + weight);
  }
  const chosen = foremost(eligible, (a, b) => (credits.get(b) ?? 0) - (credits.get(a) ?? 0));
  if (chosen === null) return { chosen, skipped, turn };
  credits.set(chosen, (credits.get(chosen) ?? 0) - earned);
  return {
    chosen,
    skipped,
    turn: { lastServed: chosen, order: members, credits: members.map((rep) => credits.get(rep) ?? 0) },
  };
}

function creditsOf(turn: Turn | null): Map<RepKey, number> {
  return new Map((turn?.order ?? []).map((rep, i) => [rep, turn?.credits?.[i] ?? 0]));
}
