import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { ChangeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import type { StoredLead } from '../store/load-leads';
import { insertRows } from '../store/rows';
import { again } from './act';
import { handOf } from './cause';
import { lineOf } from './change-source';
import { byHand, type Hand } from './hand';
import { type Acting, perform } from './perform';

/** The owner of a lead accepts it. */
export function acceptLead(source: DataSource, id: number, hand: Hand): Promise<void> {
  return byHand(source, id, 'accept', hand, async ({ manager }, { lead: { entity } }) => {
    await manager.update(LeadEntity, id, { acceptance: 'accepted', version: entity.version + 1 });
    const line = { ...lineOf(id, hand), field: 'acceptance', from: 'asked', to: 'accepted' };
    await insertRows(manager, ChangeEntity, [line]);
  });
}

/** Its owner gives back what they were asked to accept: it is routed again, without any of those who gave it back. */
export async function routeWithoutOwner(acting: Acting, lead: StoredLead, reason: string, hand: Hand): Promise<void> {
  const { entity, record } = lead;
  const { givenBackBy = [] } = record.standing;
  const standing = { ...record.standing, givenBackBy: [...givenBackBy, entity.owner as RepKey] };
  const act = again({ entity, record: { ...record, standing } }, 'given-back', handOf(hand.user), hand.at);
  await perform(acting, [
    { ...act, change: { kind: 'decide', occasion: 'given-back', person: null, placeReason: reason } },
  ]);
}
