import type { QueueKey, RepKey, RouteKey, TeamKey } from '../record/keys';

/** Someone who can own leads. */
export interface Rep {
  readonly key: RepKey;
  readonly name: string;
  readonly mayTakeLeads: boolean;
  /** Most open leads at a time; null: no limit. */
  readonly limit: number | null;
}

export interface Team {
  readonly key: TeamKey;
  readonly name: string;
  /** In order of joining. */
  readonly members: readonly RepKey[];
}

/** A pool from which its members pick up. */
export interface Queue {
  readonly key: QueueKey;
  readonly name: string;
  readonly members: readonly RepKey[];
}

/** People as the charter finds them: outside it, effective at once. */
export interface Organisation {
  readonly reps: ReadonlyMap<RepKey, Rep>;
  readonly teams: ReadonlyMap<TeamKey, Team>;
  readonly queues: ReadonlyMap<QueueKey, Queue>;
}

/** The teams that someone belongs to; nobody belongs to none. */
export function teamsOf(rep: string | null, teams: Organisation['teams']): readonly TeamKey[] {
  return [...teams.values()].flatMap(({ key, members }) => (members.some((one) => one === rep) ? [key] : []));
}

/** Where a route's turns stand: who was served last, and the list as it was then. */
export interface Turn {
  readonly lastServed: RepKey;
  readonly order: readonly RepKey[];
}

/** What choosing people changes from lead to lead: open leads by rep, and turns by route. */
export interface Rota {
  readonly loads: Map<RepKey, number>;
  readonly turns: Map<RouteKey, Turn>;
}
