import type { DoneEach, Pin } from '@relvik/contracts';
import type { TerritoryKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { pinned } from './act';
import { handOf } from './cause';
import { eachOf } from './each-of';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/**
 * Pins leads to a territory, whatever their address, or unpins them; each by itself. Needs the right to assign the lead.
 *
 * @throws Refused for a territory that the charter in force does not have
 */
export async function pinLeads(source: DataSource, { ids, territory, reason }: Pin, hand: Hand): Promise<DoneEach> {
  const { ready } = await readGoverning(source.manager, 'none');
  if (territory !== null && !ready.charter.territories.list.some(({ key }) => key === territory))
    throw Refused.invalid([{ path: '/territory', message: 'is no territory of the charter in force' }]);
  return eachOf(ids, (id) =>
    byHand(source, id, 'assign', hand, async (acting, { lead }) => {
      if (lead.record.standing.pin === territory) return;
      const governing = await readGoverning(acting.manager, 'share');
      const act = pinned(lead, territory as TerritoryKey | null, reason ?? null, handOf(hand.user), hand.at);
      await perform(acting, [act], governing);
    }),
  );
}
