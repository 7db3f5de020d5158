import { RECORD_KINDS, type RecordKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../../problem/refused';
import type { User } from '../../session/session-store';
import { recordsInSight, type Sight } from '../../session/sight';
import { RecordEntity } from '../../store/entity/lead.entity';
import type { TaskEntity } from '../../store/entity/task.entity';
import { RECORD_ENTITIES } from '../../store/unrouted-kinds';

/** A record of any kind, as far as its tasks go. */
export interface TaskRecord {
  readonly id: number;
  readonly kind: RecordKind;
  readonly owner: string | null;
}

/**
 * A record of any kind in sight.
 *
 * @throws Refused `not-found`, also for what is out of sight
 */
export async function anyInSight(manager: EntityManager, id: number, sight: Sight): Promise<TaskRecord> {
  const kind = (await manager.findOneBy(RecordEntity, { id }))?.kind;
  const known = RECORD_KINDS.find((one) => one === kind);
  if (known === undefined) throw Refused.notFound();
  const query = manager.createQueryBuilder(RECORD_ENTITIES[known], 'r').where('r.id = :id', { id });
  const found = (await recordsInSight(query, known, sight).getOne()) as { readonly owner: string | null } | null;
  if (found === null) throw Refused.notFound();
  return { id, kind: known, owner: found.owner };
}

/** Whether a user may change a task: their own, that of their record, and as a manager those of their people. */
export function mayChange(
  task: Pick<TaskEntity, 'owner'>,
  record: Pick<TaskRecord, 'owner'>,
  sight: Sight,
  user: User,
): boolean {
  if (sight.all || task.owner === user.key || record.owner === user.key) return true;
  if (user.role !== 'manager') return false;
  return [task.owner, record.owner].some((owner) => owner === null || sight.owners.includes(owner));
}
