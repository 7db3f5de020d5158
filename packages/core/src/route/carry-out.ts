import type { Skipped } from '../method/method';
import type { Organisation, Rota } from '../people/people';
import type { BayReason } from '../record/bay';
import type { RouteKey } from '../record/keys';
import type { Place } from '../record/place';
import { type Chosen, choose, type ChoosingRoute, type ToPlace } from './choose';
import type { Destination } from './destination';
import { type NobodyFree, RESPECTS_ALL, type Route } from './route';
import type { RecordSkills } from './skills-asked';

/** A route to be carried out, with what happens when nobody is free. */
export interface Attempt {
  readonly route: Pick<Route, 'key' | 'to' | 'method' | 'respects'>;
  readonly nobodyFree: NobodyFree;
  readonly skills: RecordSkills;
}

/** What came of it. */
export interface CarriedOut {
  readonly place:
    Extract<Place, { readonly kind: 'owner' | 'queue' | 'bay' }> | { readonly kind: 'nobody'; readonly reason: string };
  /** The route that placed the record, or for which it waits first. */
  readonly route: RouteKey;
  readonly skipped: readonly Skipped[];
  readonly turn: Chosen['turn'];
  /** Nobody at all has what it asks for, so that waiting alone will not help. */
  readonly hopeless: boolean;
}

/** The route by whose turns people of another destination are chosen: a key of no route in a charter. */
export function elsewhereTurns(route: RouteKey): RouteKey {
  return `${route}~` as RouteKey;
}

/**
 * Carries matched routes out, in order, until one of them places the record; else it waits in the bay. Changes nothing.
 *
 * @param attempts at least one; those after the first are tried while *next route* is said
 */
export function carryOut(
  attempts: readonly [Attempt, ...Attempt[]],
  record: Omit<ToPlace, 'skills'>,
  people: Organisation,
  rota: Rota,
): CarriedOut {
  const skipped: Skipped[] = [];
  const [first] = attempts;
  for (const attempt of attempts) {
    const { route, nobodyFree, skills } = attempt;
    const unread = skills.flatMap(({ field, words }) => (words === null ? [field] : []));
    // What can't be read stops those below, as a condition does.
    if (unread.length > 0 && attempt === first)
      return { ...waiting({ why: 'unjudged', fields: unread }), route: route.key };
    if (unread.length > 0) break;
    for (const asked of asking(route, nobodyFree)) {
      const chosen = choose(asked, { ...record, skills }, people, rota);
      const { place, turn } = chosen;
      if (place !== null)
        return { place, route: route.key, skipped: [...skipped, ...chosen.skipped], turn, hopeless: false };
      for (const one of chosen.skipped)
        if (!skipped.some(({ rep, exclusion }) => rep === one.rep && exclusion.why === one.exclusion.why))
          skipped.push(one);
    }
    if (nobodyFree.kind !== 'next-route') break;
  }
  const hopeless = skipped.length > 0 && skipped.every(({ exclusion }) => exclusion.why === 'lacks-skill');
  const also = attempts.slice(1).map(({ route }) => route.key);
  return { ...waiting(nobodyFree(first.route, also)), route: first.route.key, skipped, hopeless };
}

function waiting(reason: BayReason): Omit<CarriedOut, 'route'> {
  return { place: { kind: 'bay', reason }, skipped: [], turn: null, hopeless: false };
}

/** The route, and once more with what is said for when nobody is free. */
export function asking(route: Attempt['route'], nobodyFree: NobodyFree): ChoosingRoute[] {
  switch (nobodyFree.kind) {
    case 'wait':
    case 'next-route':
      return [route];
    case 'elsewhere':
      return [route, { ...route, key: elsewhereTurns(route.key), to: nobodyFree.to }];
    case 'ignore-limits':
      return [route, { ...route, respects: { ...(route.respects ?? RESPECTS_ALL), limit: false } }];
  }
}

function nobodyFree({ key, to }: Attempt['route'], also: readonly RouteKey[]): BayReason {
  const who = whoIn(to);
  return { why: 'nobody-free', route: key, ...who, ...(also.length === 0 ? {} : { also }) };
}

function whoIn(to: Destination): Pick<Extract<BayReason, { why: 'nobody-free' }>, 'rep' | 'team'> {
  return { rep: to.kind === 'rep' ? to.rep : null, team: to.kind === 'team' ? to.team : null };
}
