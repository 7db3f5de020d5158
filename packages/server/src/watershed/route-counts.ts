import type { RouteChanged, RouteCounts, RuleCounts } from '@relvik/contracts';
import { IsNull, type EntityManager, Not } from 'typeorm';
import { CharterEntity } from '../store/entity/charter.entity';

/** How many charters are looked back to find when a route was changed. */
const LOOKED_BACK = 30;

/** The leads that each route gave away, those that wait for it, and when it last gave one away. */
export async function routeCounts(manager: EntityManager): Promise<RuleCounts['routes']> {
  const rows = await manager.query<{ route: string; place: string; count: string; last: Date }[]>(
    `SELECT route, place, COUNT(*) AS count, MAX(since) AS last FROM \`lead\`
     WHERE route IS NOT NULL GROUP BY route, place`,
  );
  const counts: Record<string, RouteCounts> = {};
  for (const { route, place, count, last } of rows) {
    const known = counts[route] ?? { leads: 0, waiting: 0, last: null };
    counts[route] =
      place === 'bay'
        ? { ...known, waiting: Number(count) }
        : {
            ...known,
            leads: known.leads + Number(count),
            last: Math.max(known.last ?? 0, last.getTime()),
          };
  }
  return counts;
}

/** {@link routesChanged}, read again only when another charter has come into force. */
export class RouteHistory {
  private kept: { readonly number: number; readonly changed: RuleCounts['routesChanged'] } | null = null;

  async read(manager: EntityManager, inForce: number): Promise<RuleCounts['routesChanged']> {
    if (this.kept?.number !== inForce) this.kept = { number: inForce, changed: await routesChanged(manager) };
    return this.kept.changed;
  }
}

/** For each route of the charter in force the charter by which it became what it is; of older ones the oldest looked at. */
async function routesChanged(manager: EntityManager): Promise<RuleCounts['routesChanged']> {
  const charters = await manager.find(CharterEntity, {
    where: { number: Not(IsNull()) },
    order: { number: 'DESC' },
    take: LOOKED_BACK,
  });
  const changed: Record<string, RouteChanged> = {};
  let before = new Map<string, string>();
  for (const { number, name, author, enactedAt, body } of charters.toReversed()) {
    const routes = new Map(
      body.streams.flatMap((stream) => stream.routes.map((route) => [route.key, JSON.stringify(route)] as const)),
    );
    for (const [key, text] of routes)
      if (before.get(key) !== text)
        changed[key] = { charter: number ?? 0, name, by: author, at: enactedAt?.getTime() ?? null };
    before = routes;
  }
  return Object.fromEntries([...before.keys()].flatMap((key) => (changed[key] ? [[key, changed[key]]] : [])));
}
