import type { Skipped } from '../method/method';
import type { Exclusion } from '../people/eligible';
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
  readonly route: Pick<Route, 'key' | 'to' | 'method' | 'respects' | 'tags' | 'tell' | 'tasks'>;
  readonly nobodyFree: NobodyFree;
  readonly skills: RecordSkills;
}

/** The result of carrying routes out. */
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
  let skipped: readonly Skipped[] = [];
  const [first] = attempts;
  for (const attempt of attempts) {
    const { route, nobodyFree, skills } = attempt;
    const unread =
      skills.length === 0 ? NO_FIELDS : skills.flatMap(({ field, words }) => (words === null ? [field] : []));
    // A field that can't be read stops the routes below, as an unjudged condition does.
    if (unread.length > 0 && attempt === first)
      return { ...waiting({ why: 'unjudged', fields: unread }), route: route.key };
    if (unread.length > 0) break;
    const tries = nobodyFree.kind === 'wait' || nobodyFree.kind === 'next-route' ? null : asking(route, nobodyFree);
    for (let t = 0; t < (tries?.length ?? 1); t += 1) {
      const chosen = choose(tries?.[t] ?? route, { ...record, skills }, people, rota);
      const { place, turn } = chosen;
      if (skipped.length === 0) skipped = chosen.skipped;
      else skipped = [...skipped, ...chosen.skipped.filter((one) => isNew(one, skipped))];
      if (place !== null) return { place, route: route.key, skipped, turn, hopeless: false };
    }
    if (nobodyFree.kind !== 'next-route') break;
  }
  const hopeless =
    skipped.some(({ exclusion }) => exclusion.why === 'lacks-skill') &&
    skipped.every(({ exclusion }) => PERMANENT.includes(exclusion.why));
  const also = attempts.slice(1).map(({ route }) => route.key);
  return { ...waiting(nobodyFree(first.route, also)), route: first.route.key, skipped, hopeless };
}

const NO_FIELDS: readonly string[] = [];

/** Exclusions that end neither with time nor when a lead is closed. */
const PERMANENT: readonly Exclusion['why'][] = ['lacks-skill', 'may-not-take-leads', 'not-here', 'gave-back'];

function waiting(reason: BayReason): Omit<CarriedOut, 'route'> {
  return { place: { kind: 'bay', reason }, skipped: [], turn: null, hopeless: false };
}

/** Whether someone was not passed over for the same reason before. */
function isNew({ rep, exclusion }: Skipped, before: readonly Skipped[]): boolean {
  return !before.some((one) => one.rep === rep && one.exclusion.why === exclusion.why);
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
