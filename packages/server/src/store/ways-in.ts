import type { Handling } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { WayInEntity } from './entity/intake.entity';

/** How far rules are asked of leads that are typed in or edited by hand, where nothing else is said. */
export async function handlingByHand(manager: EntityManager): Promise<Handling> {
  return (await manager.findOneBy(WayInEntity, { way: 'hand' }))?.handling ?? 'decide';
}
