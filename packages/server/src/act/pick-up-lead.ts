import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { moved } from './act';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** Takes a lead out of a queue. Of two at the same moment exactly one gets it. */
export function pickUpLead(source: DataSource, id: number, hand: Hand): Promise<void> {
  return byHand(source, id, 'pickUp', hand, async (acting, { lead }) => {
    const place = { kind: 'owner', rep: hand.user.key as RepKey } as const;
    await perform(acting, [moved(lead, { place }, handOf(hand.user), hand.at)]);
  });
}
