import type { Attempt, RepKey, RouteKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { loadLeads } from '../store/load-leads';
import { peekLoads } from '../store/rota';
import { OutOfDate } from '../store/rows';
import { type Act, again } from './act';
import { RELVIK } from './cause';

/** A rep became free while leads were decided: the transaction starts again so that waiting leads go first. */
export class PassedOver extends OutOfDate {}

/** At most this many waiting leads join the transaction; the bay job takes the rest. */
const MOST = 500;

/**
 * Leads that wait in the bay for one of the matched routes, if a rep of it seems to be free: oldest first, locked.
 *
 * @param tried the routes that are tried for the leads that come in
 * @param goingOn routes that say *next route*: who waits for one of them may wait for others too
 * @param isFree whether anyone a route leads to can be given a lead, by these loads
 * @returns acts that decide them again, and the routes for which others wait that were not taken along
 */
export async function waitersBefore(
  manager: EntityManager,
  tried: readonly Attempt[],
  goingOn: readonly RouteKey[],
  isFree: (attempt: Attempt, loads: Map<RepKey, number>) => boolean,
  acts: readonly Act[],
): Promise<{ readonly acts: Act[]; readonly left: Attempt[] }> {
  // A route to the owner of the company leads to several people.
  const byRoute = new Map<RouteKey, Attempt[]>();
  for (const attempt of tried) {
    const known = byRoute.get(attempt.route.key) ?? [];
    if (!known.some((one) => personOf(one) === personOf(attempt))) byRoute.set(attempt.route.key, [...known, attempt]);
  }
  if (byRoute.size === 0) return { acts: [], left: [] };
  const waited = await waitingRoutes(manager, [...new Set([...byRoute.keys(), ...goingOn])]);
  const waiting = waited.map(({ route, also }) => ({
    route,
    for: [route, ...also].flatMap((key) => byRoute.get(key) ?? []),
  }));
  const contested = [...new Set(waiting.flatMap((one) => one.for))];
  if (contested.length === 0) return { acts: [], left: [] };
  const loads = await peekLoads(manager);
  const free = contested.filter((attempt) => isFree(attempt, loads));
  const left = contested.filter((attempt) => !free.includes(attempt));
  if (free.length === 0) return { acts: [], left };
  const routes = waiting.flatMap((one) => (one.for.some((attempt) => free.includes(attempt)) ? [one.route] : []));

  const own = new Set(acts.map(({ record }) => record.id));
  const ids = await manager.query<{ id: number }[]>(
    `SELECT id FROM \`lead\` WHERE route IN (?) AND ${FOR_SOMEONE} ORDER BY since, id LIMIT ${MOST} FOR UPDATE SKIP LOCKED`,
    [routes],
  );
  const order = ids.map(({ id }) => id).filter((id) => !own.has(String(id)));
  const leads = new Map((await loadLeads(manager, order, 'write')).map((lead) => [lead.entity.id, lead]));
  const now = acts[0]?.asOf ?? new Date(0);
  return { acts: order.flatMap((id) => leads.get(id) ?? []).map((lead) => again(lead, 'freed', RELVIK, now)), left };
}

/** The one person to whom an attempt leads; null: it leads to several, or to none. */
function personOf({ route: { to } }: Attempt): RepKey | null {
  return to.kind === 'rep' ? to.rep : null;
}

/** Waits in the bay for someone free, not for a value. */
export const FOR_SOMEONE = "waits_for IN ('route', 'routes') AND status = 'open'";

/**
 * The routes for which leads wait in the bay, each with the others that matched after it.
 *
 * @param of only those; missing: all
 */
export async function waitingRoutes(
  manager: EntityManager,
  of: readonly RouteKey[] | null = null,
): Promise<{ readonly route: RouteKey; readonly also: readonly RouteKey[] }[]> {
  const alone = "FROM `lead` WHERE waits_for = 'route' AND status = 'open'";
  const further = "FROM `lead` WHERE waits_for = 'routes' AND status = 'open'";
  // Thousands may wait for a route overnight: one of them tells that some do.
  const forOne = await (of === null
    ? manager.query<{ route: RouteKey }[]>(`SELECT DISTINCT route ${alone}`)
    : manager.query<{ route: RouteKey }[]>(
        of.map(() => `(SELECT route ${alone} AND route = ? LIMIT 1)`).join(' UNION ALL '),
        [...of],
      ));
  const forSeveral = await manager.query<{ route: RouteKey; also: readonly RouteKey[] }[]>(
    `SELECT DISTINCT route, JSON_EXTRACT(bay, '$.also') AS also ${further}${of === null ? '' : ' AND route IN (?)'}`,
    of === null ? [] : [of],
  );
  return [...forOne.map(({ route }) => ({ route, also: [] })), ...forSeveral];
}
