import type { UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { JoinedPartyEntity } from '../store/entity/joined-party.entity';
import type { UnroutedEntity } from '../store/entity/unrouted.entity';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { recordsInSight, type Sight } from './sight';

/**
 * A contact, company or deal in sight, or the refusal that does not tell whether it exists.
 *
 * @param lock `write`: nobody else changes it until the transaction ends
 */
export async function recordInSight<E extends UnroutedEntity>(
  manager: EntityManager,
  kind: UnroutedKind,
  sight: Sight,
  id: number,
  lock: 'none' | 'write' = 'none',
): Promise<E> {
  const query = recordsInSight(
    manager.createQueryBuilder(UNROUTED_ENTITIES[kind], 'r').where('r.id = :id', { id }),
    kind,
    sight,
  );
  const found = await (lock === 'write' ? query.setLock('pessimistic_write') : query).getOne();
  if (found !== null) return found as E;
  // One that was joined leads to the older one.
  const joined = await manager.findOneBy(JoinedPartyEntity, { id });
  if (joined === null || joined.kind !== kind) throw Refused.notFound();
  return recordInSight(manager, kind, sight, joined.older, lock);
}
