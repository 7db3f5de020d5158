import type { ReadyCharter } from '../charter/ready-charter';
import { copyRota } from '../people/people';
import type { World } from '../people/world';
import type { Instant } from '../record/keys';
import type { MovingRecord } from '../record/record';
import type { Occasion } from '../record/occasion';
import { advance, decide, type PersonAct } from './decide';
import type { Decision } from './decision';

/**
 * Decides records one after the other at one instant, as if each came in or as one person gives them away: turns and loads move on from each to the next. Nothing outside is
 * changed, not even the rota of the world.
 *
 * @returns their decisions, in the order given
 */
export function decideInTurn(
  charter: ReadyCharter,
  records: readonly MovingRecord[],
  world: World,
  asOf: Instant,
  occasion: Occasion = 'created',
  person: PersonAct | null = null,
): Decision[] {
  const rota = copyRota(world.rota);
  return records.map((record) => {
    const decision = decide(charter, record, { ...world, rota }, occasion, asOf, person);
    advance(rota, decision);
    return decision;
  });
}
