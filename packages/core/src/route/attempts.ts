import { takesTurns } from '../method/choose-by-method';
import { exclusionOf, hasSkill } from '../people/eligible';
import type { Organisation, Rota } from '../people/people';
import type { Instant, RepKey, RouteKey } from '../record/keys';
import { type Attempt, asking } from './carry-out';
import { membersAt, readableSkills } from './choose';
import { type MatchedRoute, type ReadyStream, type RouteMatch, whenNobodyIsFree } from './match-route';
import { RESPECTS_ALL } from './route';

export type Matched = Extract<RouteMatch, { readonly kind: 'matched' }>;

/** The routes that are tried for a record that matched, in order. */
export function attemptsOf(streams: readonly ReadyStream[], match: Matched): readonly [Attempt, ...Attempt[]] {
  return [attempt(streams, match), ...(match.then ?? []).map((one) => attempt(streams, one))];
}

function attempt(streams: readonly ReadyStream[], { route: key, to, skills = [], method }: MatchedRoute): Attempt {
  // It may have matched by another charter than the one that places: then it is tried as it was.
  const own = attemptBy(streams, key) ?? {
    route: { key, to, ...(method === undefined ? {} : { method }) },
    nobodyFree: { kind: 'wait' },
  };
  const isOwn = own.route.to.kind !== 'company-owner' && own.route.to.kind !== 'handed-on';
  return { ...own, ...(isOwn ? {} : { route: { ...own.route, to } }), skills };
}

/** A route as it is tried for records that ask for no skills; null: there is no such route. */
export function attemptBy(streams: readonly ReadyStream[], key: RouteKey): Attempt | null {
  for (const stream of streams)
    for (const route of stream.routes)
      if (route.key === key) return { route, nobodyFree: whenNobodyIsFree(stream, route), skills: [] };
  return null;
}

/** Everyone who may be given a record by an attempt: those of its destinations who have the skills. */
export function candidatesFor({ route, nobodyFree, skills }: Attempt, people: Organisation): RepKey[] {
  const asked = readableSkills(skills);
  return asking(route, nobodyFree).flatMap(({ to }) =>
    membersAt(to, people).reps.filter((key) => {
      const rep = people.reps.get(key);
      return rep === undefined || asked.every((ask) => hasSkill(rep, ask));
    }),
  );
}

/** The turns that an attempt may move on. */
export function turnsFor({ route, nobodyFree }: Attempt): RouteKey[] {
  return asking(route, nobodyFree).flatMap(({ key, to, method = 'round-robin' }) =>
    takesTurns(method) && (to.kind === 'team' || to.kind === 'reps' || to.kind === 'skilled') ? [key] : [],
  );
}

/** Whether anyone could be given some record by an attempt, whatever skills it asks for. */
export function isAnyoneFree(
  { route, nobodyFree }: Attempt,
  people: Organisation,
  rota: Pick<Rota, 'loads' | 'seen'>,
  at: Instant,
): boolean {
  return asking(route, nobodyFree).some(({ to, respects = RESPECTS_ALL }) => {
    const { reps, paused } = membersAt(to, people);
    return reps.some(
      (rep) =>
        !paused.has(rep) && exclusionOf(people.reps.get(rep), people, rota, { at, respects, skills: [] }) === null,
    );
  });
}

/** The routes after which the search goes on while nobody is free. */
export function routesThatGoOn(streams: readonly ReadyStream[]): RouteKey[] {
  return streams.flatMap((stream) =>
    stream.routes.flatMap((route) => (whenNobodyIsFree(stream, route).kind === 'next-route' ? [route.key] : [])),
  );
}
