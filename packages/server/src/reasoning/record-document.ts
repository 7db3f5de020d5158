import type { RecordDocument } from '@relvik/contracts';
import { readAcrossTies, type UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { loadUnrouted, tiesOfUnrouted } from '../store/load-unrouted';
import { tiedValues } from '../store/tied-values';

/** A contact, company or deal as scores read it, with everything that they might read across its ties. */
export async function recordDocument(manager: EntityManager, kind: UnroutedKind, id: number): Promise<RecordDocument> {
  const { ready, world } = await readGoverning(manager, 'none');
  const [stored] = await loadUnrouted(manager, kind, [id], ready);
  if (stored === undefined) throw Refused.notFound();
  const ties = tiesOfUnrouted(stored.entity);
  const across = readAcrossTies(world.fields.keys(), kind);
  const tied = (await tiedValues(manager, across, [ties]))(ties);
  const { arrived, values, activities } = stored.record;
  return { id, arrived, way: null, pin: null, values: [...values], tied: [...tied], activities };
}
