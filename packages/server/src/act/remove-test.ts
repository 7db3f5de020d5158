import type { DataSource } from 'typeorm';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { removeLeads } from './remove-leads';

/** Removes a lead that was made as a test. */
export function removeTest(source: DataSource, id: number, hand: Hand): Promise<void> {
  return byHand(source, id, 'remove', hand, (acting, { lead }) =>
    removeLeads(acting, [lead], handOf(hand.user), hand.at, 'removed as a test'),
  );
}
