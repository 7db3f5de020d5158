import type { MoveDeal } from '@relvik/contracts';
import {
  type Charter,
  gateAlong,
  gatesNow,
  pipelineOfStage,
  type Stage,
  stagesByHand,
  stagesOf,
  statusIn,
} from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import type { DealEntity } from '../store/entity/deal.entity';
import { movingDeal, type StoredDeal } from '../store/moving-deal';
import { handSource } from './change-source';
import { decideDeals } from './decide-deals';
import type { Hand } from './hand';
import { onRecord } from './record-in-hand';
import { settleByMove } from './settle-by-move';

/**
 * Moves a deal to a stage of its pipeline by hand; one that closes as lost takes a reason, and back into an open one it is open again.
 * The move answers open proposals about it.
 */
export function moveDeal(
  source: DataSource,
  id: number,
  { stage: key, reason = null, keepTasks = false }: MoveDeal,
  hand: Hand,
): Promise<void> {
  return onRecord(source, 'deal', id, 'edit', hand, async (manager, { stored, governing }) => {
    const { ready, world } = governing;
    const deal: StoredDeal = { ...stored, entity: stored.entity as DealEntity };
    const stage = stagesOf(ready.charter, 'deal').find((one) => one.key === key);
    if (stage === undefined) throw Refused.invalid([{ path: '/stage', message: 'is no stage of deals' }]);
    if (deal.entity.stage === key) return;
    checkByHand(ready.charter, deal.entity.stage, stage);
    if (statusIn(stage) === 'lost' && !reason)
      throw Refused.invalid([{ path: '/reason', message: 'say why, in a few words' }]);
    const now = gatesNow(ready, movingDeal(deal), world, hand.at.getTime());
    await settleByMove(manager, deal.entity, stage.key, now, hand);
    const person = { kind: 'moves', gate: gateAlong(now, stage.key), to: stage.key, reason } as const;
    const act = { deal, occasion: 'moved', person, values: new Map(), by: handSource(hand), keepTasks } as const;
    await decideDeals(manager, [act], governing, governing);
  });
}

/** Within its pipeline a deal goes where the charter lets a hand move it; into another one it may go from everywhere. */
function checkByHand(charter: Charter, from: string, to: Stage): void {
  const pipeline = pipelineOfStage(charter, from);
  if (pipeline === null || pipeline !== pipelineOfStage(charter, to.key)) return;
  if (!stagesByHand(charter, from).some(({ key }) => key === to.key))
    throw Refused.as('not-by-hand', { detail: `From its stage a hand may not move it to ${to.name}.` });
}
