import type { Turn } from '../people/people';
import type { RepKey } from '../record/keys';
import type { Choice, Choosing, Skipped } from './method';

/** Who is asked first: the next after the one served last, past those who have left since. */
function startOf(members: readonly RepKey[], turn: Turn | null): number {
  if (turn === null) return 0;
  for (let at = turn.order.indexOf(turn.lastServed); at >= 0; at -= 1) {
    const stillHere = members.indexOf(turn.order[at] as RepKey);
    if (stillHere >= 0) return (stillHere + 1) % members.length;
  }
  return 0;
}

/**
 * Chooses by turns: moves on from the last one *served*, in list order.
 *
 * Who is skipped loses the turn, not the place. Where the one served last has left, the turn goes to whoever stood after
 * them. Newcomers stand last.
 */
export function roundRobin({ members, turn, exclusion }: Omit<Choosing, 'people' | 'rota' | 'seed'>): Choice {
  const skipped: Skipped[] = [];
  const start = startOf(members, turn);
  for (let step = 0; step < members.length; step += 1) {
    const rep = members[(start + step) % members.length];
    if (rep === undefined) continue;
    const excluded = exclusion(rep);
    if (excluded === null) return { chosen: rep, skipped, turn: { lastServed: rep, order: members } };
    skipped.push({ rep, exclusion: excluded });
  }
  return { chosen: null, skipped, turn };
}
