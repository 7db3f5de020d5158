import type { Place, RepKey, UnroutedKind } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { ChangeEntity } from '../store/entity/history.entity';
import { insertRows } from '../store/rows';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { lineOf, onRecord } from './change-record';
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
    await manager.update(UNROUTED_ENTITIES[kind], entity.id, {
      owner,
      version: entity.version + 1,
      touchedAt: hand.at,
    });
    const place = (rep: string | null): Place | null => (rep === null ? null : { kind: 'owner', rep: rep as RepKey });
    await insertRows(manager, ChangeEntity, [
      { ...lineOf(entity.id, hand), field: 'place', from: place(entity.owner), to: place(owner) },
    ]);
  });
}
