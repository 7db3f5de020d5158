import { type Exclusion, exclusionOf } from '../people/eligible';
import type { Organisation, Rota, Turn } from '../people/people';
import { roundRobin } from '../people/round-robin';
import type { RepKey, RouteKey } from '../record/keys';
import type { Place } from '../record/place';
import type { Destination } from './route';

/** Who or what a matched route came to. */
export interface Chosen {
  readonly place: Place;
  readonly skipped: readonly { readonly rep: RepKey; readonly exclusion: Exclusion }[];
  /** The route's turn afterwards; null when the route takes no turns or none was ever taken. */
  readonly turn: Turn | null;
}

/** Carries a matched route out: a queue as it is, a rep or the next of a team if they can, else the bay. Changes nothing. */
export function choose(route: RouteKey, to: Destination, people: Organisation, rota: Rota): Chosen {
  const excluded = (rep: RepKey): Exclusion | null => exclusionOf(people.reps.get(rep), rota.loads);
  switch (to.kind) {
    case 'queue':
      return { place: { kind: 'queue', queue: to.queue }, skipped: [], turn: null };
    case 'rep': {
      const exclusion = excluded(to.rep);
      if (exclusion === null) return { place: { kind: 'owner', rep: to.rep }, skipped: [], turn: null };
      const reason = { why: 'nobody-free', route, rep: to.rep, team: null } as const;
      return { place: { kind: 'bay', reason }, skipped: [{ rep: to.rep, exclusion }], turn: null };
    }
    case 'team': {
      const members = people.teams.get(to.team)?.members ?? [];
      const { chosen, skipped, turn } = roundRobin(members, rota.turns.get(route) ?? null, excluded);
      if (chosen !== null) return { place: { kind: 'owner', rep: chosen }, skipped, turn };
      return { place: { kind: 'bay', reason: { why: 'nobody-free', route, rep: null, team: to.team } }, skipped, turn };
    }
  }
}
