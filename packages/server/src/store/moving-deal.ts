import type { MovingRecord, ReadyCharter, RepKey, StageKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { DealEntity } from './entity/deal.entity';
import { loadUnrouted, type StoredUnrouted } from './load-unrouted';

/** A deal as it is stored. */
export type StoredDeal = Omit<StoredUnrouted, 'entity'> & { readonly entity: DealEntity };

/** Loads deals, in order of their ids; `write` locks them. */
export async function loadDeals(
  manager: EntityManager,
  ids: readonly number[],
  ready: ReadyCharter,
  lock: 'none' | 'write' = 'none',
): Promise<StoredDeal[]> {
  const found = await loadUnrouted(manager, 'deal', ids, ready, lock);
  return found.map((one) => ({ ...one, entity: one.entity as DealEntity }));
}

/** A deal as gates read it: it has an owner or none, and no other place. */
export function movingDeal({ entity, record }: Pick<StoredDeal, 'entity' | 'record'>): MovingRecord {
  return {
    ...record,
    kind: 'deal',
    standing: {
      status: entity.status,
      cameInto: entity.cameInto,
      stage: entity.stage as StageKey,
      stageSince: entity.stageSince.getTime(),
      place: entity.owner === null ? null : { kind: 'owner', rep: entity.owner as RepKey },
      pin: null,
      looks: new Map(Object.entries(entity.looks)),
    },
  };
}
