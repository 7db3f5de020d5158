import type { Facts } from '../condition/facts';
import type { Method } from '../method/method';
import type { RouteKey, TeamKey } from '../record/keys';
import type { Destination } from './destination';
import type { MatchedRoute, Routing } from './match-route';
import type { Route } from './route';
import { leadingTo } from './company-owner';
import { skillsAsked } from './skills-asked';

/** Where a person gives a record to, leaving open which of several people gets it. */
export type GivenTo =
  | { readonly kind: 'route'; readonly route: RouteKey }
  | { readonly kind: 'team'; readonly team: TeamKey; readonly method: Method }
  /** To the team of a route whose manager did not hand it on in time, by the turns of that route. */
  | { readonly kind: 'overdue'; readonly route: RouteKey };

/** Someone, or the clock, gives a record to a route or team. */
export interface Giving {
  readonly kind: 'gives';
  readonly to: GivenTo;
}

/** The turns of a team to which people give by hand: a key of no route in a charter. */
export function turnsByHand(team: TeamKey): RouteKey {
  return `~${team}` as RouteKey;
}

/** Whether turns are those of a team to which people give by hand. */
export function isByHand(route: RouteKey): boolean {
  return route.startsWith('~');
}

/**
 * The routing of a record that someone gives to a route or team: no condition is asked.
 *
 * @param routes those of the charter; one that is not among them gives it to nobody
 */
export function routingByHand(routes: readonly Route[], to: GivenTo, facts: Pick<Facts, 'value'>): Routing {
  if (to.kind === 'team') {
    const { team, method } = to;
    return { looked: [], match: { kind: 'matched', route: turnsByHand(team), to: { kind: 'team', team }, method } };
  }
  const route = routes.find(({ key }) => key === to.route);
  const leads = route && (to.kind === 'overdue' ? teamHandedOn(route.to) : leadingTo(route.to, facts));
  if (!leads || leads.to.kind === 'company-owner') return { looked: [], match: { kind: 'none' } };
  const skills = skillsAsked(route, facts);
  return {
    looked: [],
    match: { kind: 'matched', route: route.key, ...leads, ...(skills.length === 0 ? {} : { skills }) },
  };
}

function teamHandedOn(to: Destination): Pick<MatchedRoute, 'to' | 'asOwner'> | null {
  return to.kind === 'handed-on' ? { to: { kind: 'team', team: to.team } } : null;
}
