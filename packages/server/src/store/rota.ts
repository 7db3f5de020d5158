import type { RepKey, Rota, RouteKey, Turn } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { RepLoadEntity, RotaEntity } from './entity/people.entity';
import { replaceRows } from './rows';
import { readSeen } from './seen';

interface TurnRow {
  readonly route: RouteKey;
  readonly lastServed: RepKey | null;
  readonly order: string | null;
  readonly credits: string | null;
}

/**
 * Locks turns and loads until the transaction ends, always in key order: turns first, then loads.
 *
 * Rows that are not there yet are made.
 */
export async function lockRota(
  manager: EntityManager,
  routes: Iterable<RouteKey>,
  reps: Iterable<RepKey>,
): Promise<Rota> {
  const routeKeys = [...new Set(routes)].sort();
  const repKeys = [...new Set(reps)].sort();

  const lockTurns = (): Promise<TurnRow[]> =>
    manager.query(
      'SELECT route, last_served AS lastServed, `order`, credits FROM rota WHERE route IN (?) ORDER BY route FOR UPDATE',
      [routeKeys],
    );
  const lockLoads = (): Promise<RepLoadEntity[]> =>
    manager.query('SELECT rep, open, last_given AS lastGiven FROM rep_load WHERE rep IN (?) ORDER BY rep FOR UPDATE', [
      repKeys,
    ]);

  let turns = routeKeys.length > 0 ? await lockTurns() : [];
  if (turns.length < routeKeys.length) {
    await manager
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .into(RotaEntity)
      .values(routeKeys.map((route) => ({ route, lastServed: null, order: null, credits: null })))
      .updateEntity(false)
      .execute();
    turns = await lockTurns();
  }
  let loads = repKeys.length > 0 ? await lockLoads() : [];
  if (loads.length < repKeys.length) {
    await manager
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .into(RepLoadEntity)
      .values(repKeys.map((rep) => ({ rep, open: 0, lastGiven: null })))
      .updateEntity(false)
      .execute();
    loads = await lockLoads();
  }
  return rotaFrom(turns, loads);
}

function rotaFrom(turns: readonly TurnRow[], loads: readonly RepLoadEntity[]): Rota {
  return {
    turns: new Map(
      turns.flatMap(({ route, lastServed, order, credits }) =>
        lastServed && order
          ? [
              [
                route,
                {
                  ...{ lastServed, order: JSON.parse(order) as RepKey[] },
                  ...(credits === null ? {} : { credits: JSON.parse(credits) as number[] }),
                },
              ] as const,
            ]
          : [],
      ),
    ),
    loads: new Map(loads.map(({ rep, open }) => [rep as RepKey, open])),
    lastGiven: new Map(
      loads.flatMap(({ rep, lastGiven }) => (lastGiven === null ? [] : [[rep as RepKey, Number(lastGiven)] as const])),
    ),
  };
}

/** Turns and loads as they stand, without locks: they may have changed a moment later. */
export async function peekRota(manager: EntityManager): Promise<Rota> {
  const turns = await manager.query<TurnRow[]>(
    'SELECT route, last_served AS lastServed, `order`, credits FROM rota ORDER BY route',
  );
  return { ...rotaFrom(turns, await manager.find(RepLoadEntity)), ...(await readSeen(manager)) };
}

/** Loads as they stand, without locks: they may have changed a moment later. */
export async function peekLoads(manager: EntityManager): Promise<Map<RepKey, number>> {
  const rows = await manager.find(RepLoadEntity);
  return new Map(rows.map(({ rep, open }) => [rep as RepKey, open]));
}

/** Writes turns and loads back, those that moved. */
export async function writeRota(
  manager: EntityManager,
  rota: Rota,
  routes: Iterable<RouteKey>,
  reps: Iterable<RepKey>,
): Promise<void> {
  const turns = [...new Set(routes)].flatMap((route) => {
    const turn = rota.turns.get(route);
    return turn ? [{ route, ...turnColumns(turn) }] : [];
  });
  await replaceRows(manager, RotaEntity, turns);
  const loads = [...new Set(reps)].map((rep) => ({
    rep,
    open: rota.loads.get(rep) ?? 0,
    lastGiven: rota.lastGiven.get(rep)?.toString() ?? null,
  }));
  await replaceRows(manager, RepLoadEntity, loads);
}

/** A turn as it is stored. */
export function turnColumns(turn: Turn | null): Omit<RotaEntity, 'route'> {
  return {
    lastServed: turn?.lastServed ?? null,
    order: turn === null ? null : [...turn.order],
    credits: turn?.credits === undefined ? null : [...turn.credits],
  };
}
