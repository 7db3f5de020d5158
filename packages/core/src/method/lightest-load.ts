import type { RepKey } from '../record/keys';
import { byLongestIdle } from './longest-idle';
import { type Choice, type Choosing, foremost, sift } from './method';

/**
 * Chooses whoever carries least: the smallest share of open leads in the limit.
 *
 * Who has no limit is measured against the largest limit in the destination; where nobody has one, open leads are counted.
 * Of equals the one longest without a new lead comes first.
 */
export function lightestLoad(choosing: Choosing): Choice {
  const { members, people, rota } = choosing;
  const { eligible, skipped } = sift(choosing);
  const limitOf = (rep: RepKey): number | null => people.reps.get(rep)?.limit ?? null;
  const largest = Math.max(0, ...members.map((rep) => limitOf(rep) ?? 0)) || 1;
  const idle = byLongestIdle(rota);
  const open = (rep: RepKey): number => rota.loads.get(rep) ?? 0;
  // Fractions are compared crosswise, so that equal ones are equal.
  const chosen = foremost(
    eligible,
    (a, b) => open(a) * (limitOf(b) ?? largest) - open(b) * (limitOf(a) ?? largest) || idle(a, b),
  );
  return { chosen, skipped, turn: choosing.turn };
}
