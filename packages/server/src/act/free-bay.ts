import { attemptBy, isAnyoneFree, type RouteKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { eachAlone, notFailing } from '../store/failures';
import { readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { peekLoads } from '../store/rota';
import { readSeen } from '../store/seen';
import { inTransaction } from '../store/transaction';
import { again } from './act';
import { RELVIK } from './cause';
import { perform } from './perform';
import { FOR_SOMEONE, waitingRoutes } from './waiters';

const BATCH = 500;

/**
 * Lets those leave the bay for whom someone is free now, by age, oldest first.
 *
 * @param waiting `all` also looks at those that could not be judged: after a change of rates or of the charter
 * @returns how many left
 */
export async function freeBay(
  source: DataSource,
  now: Date,
  waiting: 'for-someone' | 'all' = 'for-someone',
): Promise<number> {
  const routes = waiting === 'all' ? null : await routesWithSomeoneFree(source, now);
  if (routes?.length === 0) return 0;
  let left = 0;
  let after = { since: new Date(0), id: 0 };
  for (;;) {
    const batch = await source.query<{ id: number; since: Date }[]>(
      `SELECT id, since FROM \`lead\` WHERE ${waiting === 'all' ? "place = 'bay' AND status = 'open'" : `${FOR_SOMEONE} AND route IN (?)`}
       AND (since > ? OR (since = ? AND id > ?)) AND ${notFailing('`lead`.id')} ORDER BY since, id LIMIT ${BATCH}`,
      [...(routes === null ? [] : [routes]), after.since, after.since, after.id, 'bay', now],
    );
    await eachAlone(
      source,
      'bay',
      batch.map(({ id }) => id),
      now,
      async (some) => {
        left += await letLeave(source, some, now);
      },
    );
    const last = batch.at(-1);
    if (last === undefined || batch.length < BATCH) return left;
    after = { since: last.since, id: last.id };
  }
}

/** @param ids in the order in which they are to be decided */
async function letLeave(source: DataSource, ids: readonly number[], now: Date): Promise<number> {
  return inTransaction(source, async (manager) => {
    const leads = new Map((await loadLeads(manager, ids, 'write')).map((lead) => [lead.entity.id, lead]));
    const outcomes = await perform(
      { manager, frees: false },
      ids.flatMap((id) => {
        const lead = leads.get(id);
        // Someone took it while we waited for the lock.
        if (lead === undefined || lead.entity.place !== 'bay' || lead.entity.status !== 'open') return [];
        return [again(lead, 'freed', RELVIK, now)];
      }),
    );
    return outcomes.filter(({ after: { place } }) => place !== 'bay').length;
  });
}

/** The routes of leads that wait for someone, as far as anyone is free there or on another route for which they wait. */
async function routesWithSomeoneFree(source: DataSource, now: Date): Promise<string[]> {
  const waiting = await waitingRoutes(source.manager);
  if (waiting.length === 0) return [];
  const { ready, world } = await readGoverning(source.manager, 'none');
  const rota = { loads: await peekLoads(source.manager), ...(await readSeen(source.manager, ready)) };
  const isFree = (route: RouteKey): boolean => {
    const attempt = attemptBy(ready.rules.lead.streams, route);
    // What waited for a route that was taken out is decided again.
    return attempt === null || isAnyoneFree(attempt, world, rota, now.getTime());
  };
  return waiting.flatMap(({ route, also }) => ([route, ...also].some(isFree) ? [route] : []));
}
