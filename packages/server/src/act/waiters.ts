import type { RepKey, RouteKey } from '@relvik/core';
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

interface Route {
  readonly route: RouteKey;
}

/**
 * Leads that wait in the bay for one of the matched routes, if a rep of it seems to be free: oldest first, locked.
 *
 * @param isFree whether anyone a route leads to can be given a lead, by these loads
 * @returns acts that decide them again, and the matches for which others wait that were not taken along
 */
export async function waitersBefore<M extends Route>(
  manager: EntityManager,
  matches: readonly M[],
  isFree: (match: M, loads: Map<RepKey, number>) => boolean,
  acts: readonly Act[],
): Promise<{ readonly acts: Act[]; readonly left: M[] }> {
  const byRoute = new Map(matches.map((match) => [match.route, match]));
  if (byRoute.size === 0) return { acts: [], left: [] };
  const waited = await manager.query<{ route: RouteKey }[]>(
    `SELECT DISTINCT route FROM \`lead\` WHERE route IN (?) AND place = 'bay' AND status = 'open' AND ${FOR_SOMEONE}`,
    [[...byRoute.keys()]],
  );
  const contested = waited.flatMap(({ route }) => byRoute.get(route) ?? []);
  if (contested.length === 0) return { acts: [], left: [] };
  const loads = await peekLoads(manager);
  const free = contested.filter((match) => isFree(match, loads));
  const left = contested.filter((match) => !free.includes(match));
  if (free.length === 0) return { acts: [], left };

  const own = new Set(acts.map(({ record }) => record.id));
  const ids = await manager.query<{ id: number }[]>(
    `SELECT id FROM \`lead\` WHERE route IN (?) AND place = 'bay' AND status = 'open' AND ${FOR_SOMEONE}
     ORDER BY since, id LIMIT ${MOST} FOR UPDATE SKIP LOCKED`,
    [free.map(({ route }) => route)],
  );
  const order = ids.map(({ id }) => id).filter((id) => !own.has(String(id)));
  const leads = new Map((await loadLeads(manager, order, 'write')).map((lead) => [lead.entity.id, lead]));
  const now = acts[0]?.asOf ?? new Date(0);
  return { acts: order.flatMap((id) => leads.get(id) ?? []).map((lead) => again(lead, 'freed', RELVIK, now)), left };
}

/** Waits for someone free, not for a value. */
export const FOR_SOMEONE = "JSON_VALUE(bay, '$.why') = 'nobody-free'";
