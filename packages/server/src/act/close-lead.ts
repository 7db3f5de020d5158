import type { Closing, Place } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { placeOf } from '../store/load-leads';
import { moved } from './act';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** Closes a lead with a reason; its owner's load is freed. */
export function closeLead(source: DataSource, id: number, outcome: Closing, reason: string, hand: Hand): Promise<void> {
  return byHand(source, id, 'close', hand, async (acting, { lead }) => {
    const here = placeOf(lead.entity);
    const place: Place = here.kind === 'owner' ? here : { kind: 'not-handed-over', verdict: lead.entity.verdict };
    await perform(acting, [moved(lead, { place, closing: { outcome, reason } }, handOf(hand.user), hand.at)]);
  });
}
