import { type Choice, type Choosing, sift } from './method';

/** Chooses the first who is eligible, in order. */
export function firstOnTheList(choosing: Choosing): Choice {
  const { eligible, skipped } = sift(choosing);
  return { chosen: eligible[0] ?? null, skipped, turn: choosing.turn };
}
