import type { RepKey, TeamKey } from '../record/keys';
import type { Organisation, Team } from './people';

/** The people of a destination, in order, each once. */
export interface Members {
  readonly reps: readonly RepKey[];
  /** Those who are in it through paused teams only. */
  readonly paused: ReadonlyMap<RepKey, TeamKey>;
}

const NONE: ReadonlyMap<RepKey, TeamKey> = new Map();

export function membersOf(reps: readonly RepKey[]): Members {
  return { reps, paused: NONE };
}

/** By the teams that they were read from. */
const kept = new WeakMap<Organisation['teams'], Map<string, Members>>();

/**
 * The members of a team.
 *
 * @param inside also those of the teams inside it, each person once, where they stand first
 */
export function membersOfTeam(team: TeamKey, inside: boolean, { teams }: Pick<Organisation, 'teams'>): Members {
  const own = teams.get(team);
  if (own === undefined) return membersOf([]);
  if (!inside && own.paused !== true) return membersOf(own.members);
  const known = kept.get(teams) ?? new Map<string, Members>();
  kept.set(teams, known);
  const name = `${team} ${inside}`;
  const found = known.get(name) ?? gather(inside ? withTeamsInside(own, teams) : [own]);
  known.set(name, found);
  return found;
}

function gather(teams: readonly Team[]): Members {
  const reps = new Set<RepKey>();
  const paused = new Map<RepKey, TeamKey>();
  for (const { key, members, paused: isPaused = false } of teams)
    for (const rep of members) {
      if (isPaused && !reps.has(rep)) paused.set(rep, key);
      if (!isPaused) paused.delete(rep);
      reps.add(rep);
    }
  return { reps: [...reps], paused };
}

/** A team and all that lie inside it, each once, the outer before the inner. */
export function withTeamsInside(team: Team, teams: Organisation['teams']): Team[] {
  const found = new Set([team]);
  for (const outer of found) for (const one of teams.values()) if (one.parent === outer.key) found.add(one);
  return [...found];
}
