import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal } from '../session/rights';
import { PersonEntity } from '../store/entity/people.entity';
import { moved } from './act';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** Gives a lead to someone by hand: limits do not bind a person's judgement, but who may take no leads gets none. */
export function assignLead(source: DataSource, id: number, rep: RepKey, hand: Hand): Promise<void> {
  return byHand(source, id, 'assign', hand, async (acting, { lead, sight }) => {
    const person = (await acting.manager.findOneBy(PersonEntity, { key: rep, retired: false })) ?? undefined;
    const refusal = ownerRefusal(person, sight);
    if (refusal !== null) throw Refused.invalid([{ path: '/rep', message: refusal }]);
    if (lead.entity.owner === rep) return;
    const change = { place: { kind: 'owner', rep }, effects: [{ kind: 'tell-owner', rep }] } as const;
    await perform(acting, [moved(lead, change, handOf(hand.user), hand.at)]);
  });
}
