/** The share of what is routed that comes to a route, and what is left after it; both of 0 to 1. */
export interface Funnel {
  readonly comes: number;
  readonly left: number;
  /** How many come to it. */
  readonly count: number;
}

/** The number of records that reach each route, after those above it have taken theirs. */
export function funnelOf<K extends string>(
  routes: readonly { readonly key: K; readonly on: boolean }[],
  takes: (route: K) => number,
  lastResort: number,
): ReadonlyMap<K, Funnel> {
  const taken = (route: (typeof routes)[number]): number => (route.on ? takes(route.key) : 0);
  const all = routes.reduce((sum, route) => sum + taken(route), lastResort);
  const funnel = new Map<K, Funnel>();
  let count = all;
  for (const route of routes) {
    const left = count - taken(route);
    funnel.set(route.key, { comes: count / Math.max(1, all), left: left / Math.max(1, all), count });
    count = left;
  }
  return funnel;
}
