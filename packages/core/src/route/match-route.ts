import { type Account, explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { ReadyCondition } from '../condition/ready';
import type { RouteKey, StageKey } from '../record/keys';
import type { Destination, Route } from './route';
import type { Stream } from './stream';

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

export type RouteMatch =
  | { readonly kind: 'matched'; readonly route: RouteKey; readonly to: Destination }
  | { readonly kind: 'none' }
  /** A route above all matches can't be judged, so none below it may take the lead. */
  | { readonly kind: 'unjudged'; readonly fields: readonly string[] };

export interface Routing {
  readonly looked: readonly RouteLook[];
  readonly match: RouteMatch;
}

/** Whether any stream acts on entering a stage. */
export function routesOnEntering(streams: readonly Pick<Stream, 'on' | 'entering'>[], stage: StageKey): boolean {
  return streams.some((stream) => stream.on && stream.entering.includes(stage));
}

/** Streams in order, then routes in order: the first match wins. */
export function matchRoute(streams: readonly ReadyStream[], stage: StageKey, facts: Facts): Routing {
  const looked: RouteLook[] = [];

  function ask(
    stream: string,
    route: ReadyRoute | null,
    ready: ReadyCondition,
  ): 'no' | 'yes' | { fields: readonly string[] } {
    const account = explain(ready, facts);
    looked.push({ stream, route: route?.key ?? null, account });
    return account.answer === 'unjudged' ? { fields: [...unjudgedFields(account)] } : account.answer;
  }

  for (const stream of streams) {
    if (!stream.on || !stream.entering.includes(stage)) continue;
    const enters = ask(stream.key, null, stream.ready);
    if (typeof enters === 'object') return { looked, match: { kind: 'unjudged', ...enters } };
    if (enters === 'no') continue;
    for (const route of stream.routes) {
      if (!route.on) continue;
      const matches = ask(stream.key, route, route.ready);
      if (typeof matches === 'object') return { looked, match: { kind: 'unjudged', ...matches } };
      if (matches === 'yes') return { looked, match: { kind: 'matched', route: route.key, to: route.to } };
    }
  }
  return { looked, match: { kind: 'none' } };
}
