import type { CloseLead } from '@relvik/contracts';
import type { Place } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { placeOf } from '../store/load-leads';
import { moved } from './act';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** Closes a lead with a reason; its owner's load is freed, and its open tasks are cancelled unless they are kept. */
export function closeLead(
  source: DataSource,
  id: number,
  { outcome, reason, keepTasks = false }: CloseLead,
  hand: Hand,
): Promise<void> {
  return byHand(source, id, 'close', hand, async (acting, { lead }) => {
    const here = placeOf(lead.entity);
    const place: Place = here.kind === 'owner' ? here : { kind: 'not-handed-over', verdict: lead.entity.verdict };
    await perform(acting, [
      moved(lead, { place, closing: { outcome, reason, keepTasks } }, handOf(hand.user), hand.at),
    ]);
  });
}
