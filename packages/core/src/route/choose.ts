import { chooseByMethod, takesTurns } from '../method/choose-by-method';
import type { Skipped } from '../method/method';
import { type Exclusion, exclusionOf, type Respects, type SkillAsk } from '../people/eligible';
import { type Members, membersOf, membersOfTeam } from '../people/members';
import type { Organisation, Rota, Turn } from '../people/people';
import type { Instant, RepKey, RouteKey } from '../record/keys';
import type { Place } from '../record/place';
import type { Destination } from './destination';
import { RESPECTS_ALL, type Route } from './route';
import type { RecordSkills } from './skills-asked';

/** The record that is given to someone. */
export interface ToPlace {
  readonly record: string;
  readonly at: Instant;
  readonly skills: RecordSkills;
  /** Those who gave it back. Missing: nobody. */
  readonly without?: readonly RepKey[];
}

/** By what a route chooses. */
export type ChoosingRoute = Pick<Route, 'key' | 'to' | 'method' | 'respects'>;

/** The result of choosing by one route. */
export interface Chosen {
  /** Null: nobody is free. */
  readonly place:
    Extract<Place, { readonly kind: 'owner' | 'queue' }> | { readonly kind: 'nobody'; readonly reason: string } | null;
  readonly skipped: readonly Skipped[];
  /** The turn of the route before and afterwards; null where it takes no turns. */
  readonly turn: { readonly route: RouteKey; readonly before: Turn | null; readonly after: Turn | null } | null;
}

/** The people of a destination, in order. Nobody is in a queue: who picks up, or hands on, chooses. The owner of a company, without a record, may be anyone. */
export function membersAt(to: Destination, people: Organisation): Members {
  switch (to.kind) {
    case 'nobody':
    case 'queue':
    case 'handed-on':
      return membersOf([]);
    case 'rep':
      return membersOf([to.rep]);
    case 'reps':
      return membersOf(to.reps);
    case 'team':
      return membersOfTeam(to.team, to.inside === true, people);
    case 'skilled':
    case 'company-owner':
      return membersOf(allOf(people.reps));
  }
}

const everyone = new WeakMap<Organisation['reps'], readonly RepKey[]>();

/** In the order of keys, so that it is the same wherever the people were read. */
function allOf(reps: Organisation['reps']): readonly RepKey[] {
  const known = everyone.get(reps);
  if (known !== undefined) return known;
  const found = [...reps.keys()].sort();
  everyone.set(reps, found);
  return found;
}

/** Chooses whom a route gives a record to: a queue as it is, else one of its people by its method. Changes nothing. */
export function choose(
  { key, to, method = 'round-robin', respects = RESPECTS_ALL }: ChoosingRoute,
  { record, at, skills, without = NOBODY }: ToPlace,
  people: Organisation,
  rota: Rota,
): Chosen {
  if (to.kind === 'queue' || to.kind === 'handed-on')
    return { place: { kind: 'queue', queue: to.queue }, skipped: [], turn: null };
  if (to.kind === 'nobody') return { place: to, skipped: [], turn: null };
  const members = membersAt(to, people);
  const exclusion = exclusionFrom(members, { at, respects, skills: readableSkills(skills) }, people, rota, without);
  const turning = takesTurns(method) && to.kind !== 'rep';
  const before = turning ? (rota.turns.get(key) ?? null) : null;
  const choice = chooseByMethod(method, {
    members: members.reps,
    exclusion,
    people,
    rota,
    turn: before,
    seed: method === 'random' ? `${record} ${key}` : '',
  });
  return {
    place: choice.chosen === null ? null : { kind: 'owner', rep: choice.chosen },
    skipped: choice.skipped,
    turn: turning ? { route: key, before, after: choice.turn } : null,
  };
}

function exclusionFrom(
  { paused }: Members,
  demand: { readonly at: Instant; readonly respects: Respects; readonly skills: readonly SkillAsk[] },
  people: Organisation,
  rota: Rota,
  without: readonly RepKey[],
): (rep: RepKey) => Exclusion | null {
  return (rep) => {
    if (without.length > 0 && without.includes(rep)) return { why: 'gave-back' };
    const team = paused.get(rep);
    if (team !== undefined) return { why: 'team-paused', team };
    return exclusionOf(people.reps.get(rep), people, rota, demand);
  };
}

const NOTHING: readonly SkillAsk[] = [];
const NOBODY: readonly RepKey[] = [];

/** The required skills, without those whose field can't be read. */
export function readableSkills(skills: RecordSkills): readonly SkillAsk[] {
  if (skills.length === 0) return NOTHING;
  return skills.flatMap(({ skill, words }) => (words === null ? [] : [{ skill, words }]));
}
