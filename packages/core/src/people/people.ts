import type { DaysOff, WorkHours } from '../calendar/work-hours';
import type { Day, Instant, QueueKey, RepKey, RouteKey, TeamKey } from '../record/keys';

/** A rep’s skills from one of the admin’s lists. */
export interface RepSkill {
  /** The key of the list. */
  readonly skill: string;
  readonly has: readonly string[];
}

/** Someone who can own leads. */
export interface Rep {
  readonly key: RepKey;
  readonly name: string;
  readonly mayTakeLeads: boolean;
  /** Most open leads at a time; null: no limit. Who has 0 takes none. */
  readonly limit: number | null;
  /** The share in weighted turns, to two decimals. Missing: 1. */
  readonly weight?: number;
  /** Missing: those of the first team that has any, else at any hour. */
  readonly hours?: WorkHours | null;
  /** The place whose public holidays are off, as in {@link Organisation.holidays}. Missing: none are. */
  readonly holidaysOf?: string | null;
  /** Missing: none. */
  readonly daysOff?: readonly DaysOff[];
  /** They said that they are not here. Missing: they are here. */
  readonly away?: boolean;
  /** Missing: none. */
  readonly skills?: readonly RepSkill[];
}

export interface Team {
  readonly key: TeamKey;
  readonly name: string;
  /** In order of joining. */
  readonly members: readonly RepKey[];
  /** The team inside which it lies. Missing: none. */
  readonly parent?: TeamKey | null;
  /** Nobody gets leads as a member of it. Missing: they do. */
  readonly paused?: boolean;
  /** The hours of members who have none of their own. Missing: none. */
  readonly hours?: WorkHours | null;
}

/** A pool from which its members pick up. */
export interface Queue {
  readonly key: QueueKey;
  readonly name: string;
  readonly members: readonly RepKey[];
}

/** A list of skills: languages, say. */
export interface SkillList {
  readonly key: string;
  readonly name: string;
  readonly words: readonly string[];
}

/** People as the charter finds them: outside it, effective at once. */
export interface Organisation {
  readonly reps: ReadonlyMap<RepKey, Rep>;
  readonly teams: ReadonlyMap<TeamKey, Team>;
  readonly queues: ReadonlyMap<QueueKey, Queue>;
  /** By the key of each. Missing: none. */
  readonly skills?: ReadonlyMap<string, SkillList>;
  /** Public holidays by place, such as `NO` or `DE-BY`. Missing: none. */
  readonly holidays?: ReadonlyMap<string, readonly Day[]>;
}

/** The teams that someone belongs to; nobody belongs to none. */
export function teamsOf(rep: string | null, teams: Organisation['teams']): readonly TeamKey[] {
  return [...teams.values()].flatMap(({ key, members }) => (members.some((one) => one === rep) ? [key] : []));
}

/** Where a route's turns stand: who was served last, and the list as it was then. */
export interface Turn {
  readonly lastServed: RepKey;
  readonly order: readonly RepKey[];
  /** Of weighted turns: the credit of each rep in `order`, in hundredths of a weight. Missing: 0. */
  readonly credits?: readonly number[];
}

/** The state of assignment, which changes from lead to lead. */
export interface Rota {
  /** Open leads by rep. */
  readonly loads: Map<RepKey, number>;
  /** Turns by route. */
  readonly turns: Map<RouteKey, Turn>;
  /** When each rep last got a lead: later for who got one later, even of two in one millisecond. Absent: never. */
  readonly lastGiven: Map<RepKey, Instant>;
  /** When each rep who is signed in was last seen. Missing: whoever works at that hour counts as present. */
  readonly seen?: ReadonlyMap<RepKey, Instant>;
}

export function emptyRota(): Rota {
  return { loads: new Map(), turns: new Map(), lastGiven: new Map() };
}

export function copyRota({ loads, turns, lastGiven, seen }: Rota): Rota {
  const copy = { loads: new Map(loads), turns: new Map(turns), lastGiven: new Map(lastGiven) };
  return seen === undefined ? copy : { ...copy, seen };
}

/** Notes that a rep got a lead, later than all who got one before. */
export function noteGiven(rota: Rota, rep: RepKey, at: Instant): void {
  const latest = LATEST.get(rota.lastGiven) ?? Math.max(-Infinity, ...rota.lastGiven.values());
  const given = Math.max(at, latest + 1);
  rota.lastGiven.set(rep, given);
  LATEST.set(rota.lastGiven, given);
}

/** The latest instant in each map, so that it need not be searched for at every lead. */
const LATEST = new WeakMap<Rota['lastGiven'], Instant>();
