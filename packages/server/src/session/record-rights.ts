import type { RecordDetail } from '@relvik/contracts';
import type { UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { UnroutedEntity } from '../store/entity/unrouted.entity';
import type { User } from './session-store';
import type { Sight } from './sight';

/**
 * The rights of a user on a contact, company or deal in sight. An admin has all, a manager on what nobody or someone of their
 * teams owns; its owner edits it, and where it has none whoever owns an open lead or deal of it. Of a deal without an owner those decide whom a gate asks.
 */
export async function rightsOnRecord(
  manager: EntityManager,
  kind: UnroutedKind,
  { id, owner }: Pick<UnroutedEntity, 'id' | 'owner'>,
  sight: Sight,
  user: User,
): Promise<RecordDetail['may']> {
  const directs =
    user.role === 'admin' ||
    (user.role === 'manager' && !sight.all && (owner === null || sight.owners.includes(owner)));
  if (directs || owner === user.key) return { edit: true, assign: directs, decide: kind === 'deal' };
  if (owner !== null || kind === 'deal')
    return { edit: false, assign: false, decide: kind === 'deal' && !sight.all && sight.asked.includes(id) };
  const tie = kind === 'contact' ? 'contact' : 'company_id';
  const own = await manager.query<unknown[]>(
    `SELECT 1 FROM \`lead\` WHERE ${tie} = ? AND owner = ? AND status = 'open'
     UNION ALL SELECT 1 FROM deal WHERE ${kind} = ? AND owner = ? AND status = 'open' LIMIT 1`,
    [id, user.key, id, user.key],
  );
  return { edit: own.length > 0, assign: false, decide: false };
}
