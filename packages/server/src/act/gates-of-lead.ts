import { type GateNow, gatesNow } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Governing } from '../store/governing';
import { type StoredLead, withTiedValues } from '../store/load-leads';

/** The answers of the gates of a lead's stage now, with the values of its contact and company that they read. */
export async function gatesOfLead(
  manager: EntityManager,
  lead: StoredLead,
  { ready, world }: Pick<Governing, 'ready' | 'world'>,
  at: Date,
): Promise<readonly GateNow[]> {
  const [tied = lead] = await withTiedValues(manager, [lead], ready.rules.lead.tied);
  return gatesNow(ready, tied.record, world, at.getTime());
}
