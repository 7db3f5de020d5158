import { isOff } from '../people/off';
import type { Organisation, Rota } from '../people/people';
import type { Instant, RepKey, RouteKey } from '../record/keys';
import { choose } from './choose';
import { RESPECTS_ALL } from './route';
import type { Stream } from './stream';
import { choosesAmong } from './destination';

/**
 * The person to whom each route that chooses one of several people would give a lead that asks for no skills; working hours are
 * not looked at, whole days off are. Nothing is changed. Routes that choose at random are left out.
 *
 * @returns routes that are on, in their order; null: nobody is free there
 */
export function nextInTurn(
  streams: readonly Pick<Stream, 'on' | 'routes'>[],
  people: Organisation,
  rota: Rota,
  at: Instant,
): ReadonlyMap<RouteKey, RepKey | null> {
  const reps = new Map(
    [...people.reps].map(([key, rep]) => [key, isOff(rep, people, at) ? { ...rep, away: true } : rep]),
  );
  const next = new Map<RouteKey, RepKey | null>();
  for (const { on, routes } of streams)
    for (const route of routes) {
      if (!on || !route.on || !choosesAmong(route.to) || route.method === 'random') continue;
      const asking = { ...route, respects: { ...(route.respects ?? RESPECTS_ALL), hours: false, presence: false } };
      const { place } = choose(asking, { record: '', at, skills: [] }, { ...people, reps }, rota);
      next.set(route.key, place?.kind === 'owner' ? place.rep : null);
    }
  return next;
}
