import type { Rota } from '../people/people';
import type { RepKey } from '../record/keys';
import { type Choice, type Choosing, foremost, sift } from './method';

/** Orders reps by how long they have been without a new lead, the longest first; who never got one comes before all. */
export function byLongestIdle({ lastGiven }: Pick<Rota, 'lastGiven'>): (a: RepKey, b: RepKey) => number {
  const given = (rep: RepKey): number => lastGiven.get(rep) ?? Number.MIN_SAFE_INTEGER;
  return (a, b) => given(a) - given(b);
}

/** Chooses whoever has been longest without a new lead. */
export function firstFree(choosing: Choosing): Choice {
  const { eligible, skipped } = sift(choosing);
  return { chosen: foremost(eligible, byLongestIdle(choosing.rota)), skipped, turn: choosing.turn };
}
