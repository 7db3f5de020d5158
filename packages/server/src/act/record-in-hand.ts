import type { UnroutedKind } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { rightsOnRecord } from '../session/record-rights';
import { recordInSight } from '../session/record-sight';
import { type Sight, sightOf } from '../session/sight';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { inTransaction } from '../store/transaction';
import type { Hand } from './hand';

/** A contact, company or deal in someone's hand: locked, in their sight, and theirs to do this with. */
export interface RecordInHand {
  readonly stored: StoredUnrouted;
  readonly governing: Governing;
  readonly sight: Sight;
}

/**
 * Works on a contact, company or deal by hand, in one transaction.
 *
 * @throws Refused `not-found` for one outside the user's sight, `forbidden` for one they see only
 */
export function onRecord<T>(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  right: 'edit' | 'assign',
  { user }: Pick<Hand, 'user'>,
  work: (manager: EntityManager, inHand: RecordInHand) => Promise<T>,
): Promise<T> {
  return inTransaction(source, async (manager) => {
    const governing = await readGoverning(manager, 'share');
    const sight = await sightOf(manager, user);
    const entity = await recordInSight(manager, kind, sight, id, 'write');
    const may = await rightsOnRecord(manager, kind, entity, sight, user);
    if (!may[right]) throw Refused.as('forbidden');
    const [stored] = await loadUnrouted(manager, kind, [entity.id], governing.ready);
    if (stored === undefined) throw Refused.notFound();
    return work(manager, { stored, governing, sight });
  });
}
