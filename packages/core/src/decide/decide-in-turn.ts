import type { ReadyCharter } from '../charter/ready-charter';
import { copyRota } from '../people/people';
import type { World } from '../people/world';
import type { Instant } from '../record/keys';
import type { MovingRecord } from '../record/record';
import { advance, decide } from './decide';
import type { Decision } from './decision';

/**
 * Decides records one after the other as if each came in at one instant: turns and loads move on from each to the next. Nothing outside is
 * changed, not even the rota of the world.
 *
 * @returns their decisions, in the order given
 */
export function decideInTurn(
  charter: ReadyCharter,
  records: readonly MovingRecord[],
  world: World,
  asOf: Instant,
): Decision[] {
  const rota = copyRota(world.rota);
  return records.map((record) => {
    const decision = decide(charter, record, { ...world, rota }, 'created', asOf);
    advance(rota, decision);
    return decision;
  });
}
