import { COMPANY_OWNER, type Place, type RepKey, type UnroutedKind } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { ChangeEntity } from '../store/entity/history.entity';
import type { UnroutedEntity } from '../store/entity/unrouted.entity';
import { readGoverning } from '../store/governing';
import { insertRows } from '../store/rows';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { handOf } from './cause';
import { dueBelow } from './due-across';
import { type ChangeSource, lineBy } from './change-source';
import { followRecords } from './task/follow-records';
import { onRecord } from './record-in-hand';
import type { Hand } from './hand';
import { ownerOf } from './make-record';

/** Gives a contact, company or deal to someone by hand, or to nobody. */
export function ownRecord(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  owner: string | null,
  hand: Hand,
): Promise<void> {
  return onRecord(source, kind, id, 'assign', hand, async (manager, { stored: { entity }, sight }) => {
    if (entity.owner === owner) return;
    if (owner !== null) await ownerOf(manager, owner, sight);
    await giveOwner(manager, kind, entity, owner, { cause: handOf(hand.user), at: hand.at });
  });
}

/** Writes whose a record is from now on, with its history. */
export async function giveOwner(
  manager: EntityManager,
  kind: UnroutedKind,
  { id, version, owner: before }: UnroutedEntity,
  owner: string | null,
  by: Pick<ChangeSource, 'cause' | 'at'>,
): Promise<void> {
  await manager.update(UNROUTED_ENTITIES[kind], id, { owner, version: version + 1, touchedAt: by.at });
  await followRecords(manager, [{ id, owner: { before, after: owner }, endsTasks: false }], by.at);
  const place = (rep: string | null): Place | null => (rep === null ? null : { kind: 'owner', rep: rep as RepKey });
  await insertRows(manager, ChangeEntity, [
    { ...lineBy(id, by), field: 'place', from: place(before), to: place(owner) },
  ]);
  // Routes may lead to the owner of the company.
  if (kind === 'company')
    await dueBelow(manager, kind, id, [COMPANY_OWNER], await readGoverning(manager, 'none'), by.at);
}
