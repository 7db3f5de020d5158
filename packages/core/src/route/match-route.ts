import { type Account, explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { ReadyCondition } from '../condition/ready';
import type { RouteKey, StageKey } from '../record/keys';
import type { Method } from '../method/method';
import { leadingTo } from './company-owner';
import type { Destination } from './destination';
import type { NobodyFree, Route } from './route';
import type { Stream } from './stream';
import { type RecordSkills, skillsAsked } from './skills-asked';

export type ReadyRoute = Route & { readonly ready: ReadyCondition };
export type ReadyStream = Omit<Stream, 'routes'> & {
  readonly ready: ReadyCondition;
  readonly routes: readonly ReadyRoute[];
};

/** One route, or the entry of a stream, that was looked at, and why it did or did not match. */
export interface RouteLook {
  readonly stream: string;
  /** Null for the stream's entry condition. */
  readonly route: RouteKey | null;
  readonly account: Account;
}

/** A route that matched. */
export interface MatchedRoute {
  readonly route: RouteKey;
  /** Where it leads to the owner of the company, that person. */
  readonly to: Destination;
  /** It leads there because that person owns the company. */
  readonly asOwner?: true;
  /** The skills that the record asks for by it. Missing: none. */
  readonly skills?: RecordSkills;
  /** Of a team to which someone gave it by hand. Missing: that of the route. */
  readonly method?: Method;
}

export type RouteMatch =
  /** `then` are the routes that are tried after it while nobody is free, in order. Missing: none. */
  | ({
      readonly kind: 'matched';
      readonly then?: readonly MatchedRoute[];
      /** The stream that gives it away when it runs next. Missing: it goes at once. */
      readonly later?: string;
    } & MatchedRoute)
  | { readonly kind: 'none' }
  /** A route above all matches can't be judged, so none below it may take the lead. */
  | { readonly kind: 'unjudged'; readonly fields: readonly string[] };

export interface Routing {
  /** The record stays where it is: the route that gave it away matches again. */
  readonly stays?: true;
  readonly looked: readonly RouteLook[];
  readonly match: RouteMatch;
}

/** Whether any stream acts on entering a stage. */
export function routesOnEntering(streams: readonly Pick<Stream, 'on' | 'entering'>[], stage: StageKey): boolean {
  return streams.some((stream) => stream.on && stream.entering.includes(stage));
}

const WAIT: NobodyFree = { kind: 'wait' };

/** The nobody-free rule of a route: its own, else its stream’s, else wait. */
export function whenNobodyIsFree(stream: Pick<Stream, 'nobodyFree'>, route: Pick<Route, 'nobodyFree'>): NobodyFree {
  return route.nobodyFree ?? stream.nobodyFree ?? WAIT;
}

/**
 * Streams in order, then routes in order: the first match wins. Where it says *next route* for when nobody is free, the search goes on; what can't be
 * judged ends it.
 *
 * @param runs whether streams that assign only on their schedule assign now, whatever their schedule; otherwise what they match is `later`
 */
export function matchRoute(streams: readonly ReadyStream[], stage: StageKey, facts: Facts, runs: boolean): Routing {
  const looked: RouteLook[] = [];
  const matched: MatchedRoute[] = [];

  function ask(
    stream: string,
    route: ReadyRoute | null,
    ready: ReadyCondition,
  ): 'no' | 'yes' | { fields: readonly string[] } {
    const account = explain(ready, facts);
    looked.push({ stream, route: route?.key ?? null, account });
    return account.answer === 'unjudged' ? { fields: [...unjudgedFields(account)] } : account.answer;
  }
  function found(end: RouteMatch): Routing {
    const [first, ...then] = matched;
    if (first === undefined) return { looked, match: end };
    return { looked, match: { kind: 'matched', ...first, ...(then.length === 0 ? {} : { then }) } };
  }

  for (const stream of streams) {
    if (!stream.on || !stream.entering.includes(stage)) continue;
    const enters = ask(stream.key, null, stream.ready);
    if (typeof enters === 'object') return found({ kind: 'unjudged', ...enters });
    if (enters === 'no') continue;
    for (const route of stream.routes) {
      if (!route.on) continue;
      const matches = ask(stream.key, route, route.ready);
      if (typeof matches === 'object') return found({ kind: 'unjudged', ...matches });
      if (matches === 'no') continue;
      const skills = skillsAsked(route, facts);
      const one = { route: route.key, ...leadingTo(route.to, facts), ...(skills.length === 0 ? {} : { skills }) };
      if (stream.onlyOnSchedule === true && !runs) return found({ kind: 'matched', ...one, later: stream.key });
      matched.push(one);
      if (whenNobodyIsFree(stream, route).kind !== 'next-route') return found({ kind: 'none' });
    }
  }
  return found({ kind: 'none' });
}
