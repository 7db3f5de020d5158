import type { MoveDeal } from '@relvik/contracts';
import { type Charter, pipelineOfStage, type Stage, stagesByHand, stagesOf } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { DealEntity } from '../store/entity/deal.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { insertRows } from '../store/rows';
import { lineOf } from './change-source';
import { onRecord } from './record-in-hand';
import type { Hand } from './hand';
import { statusIn } from './insert-record';
import { touchParties } from './touch-parties';

/** Moves a deal to a stage of its pipeline by hand; one that closes takes a reason, and back into an open one it is open again. */
export function moveDeal(
  source: DataSource,
  id: number,
  { stage: key, reason = null }: MoveDeal,
  hand: Hand,
): Promise<void> {
  return onRecord(source, 'deal', id, 'edit', hand, async (manager, { stored, governing }) => {
    const deal = stored.entity as DealEntity;
    const stage = stagesOf(governing.ready.charter, 'deal').find((one) => one.key === key);
    if (stage === undefined) throw Refused.invalid([{ path: '/stage', message: 'is no stage of deals' }]);
    if (deal.stage === key) return;
    checkByHand(governing.ready.charter, deal.stage, stage);
    const status = statusIn(stage);
    if (status === 'lost' && !reason) throw Refused.invalid([{ path: '/reason', message: 'say why, in a few words' }]);
    await manager.update(DealEntity, deal.id, {
      stage: key,
      stageSince: hand.at,
      status,
      closedAt: status === 'open' ? null : hand.at,
      closeReason: status === 'open' ? null : reason,
      version: deal.version + 1,
      touchedAt: hand.at,
      // A closed deal keeps the score that it closed with.
      due: status === 'open' ? hand.at : null,
      touched: status === 'open',
      changes: deal.changes + 1,
    });
    const line = lineOf(deal.id, hand);
    await insertRows(manager, ChangeEntity, [
      { ...line, field: 'stage', from: deal.stage, to: key },
      ...(status === deal.status ? [] : [{ ...line, field: 'status', from: deal.status, to: status, reason }]),
    ]);
    await touchParties(manager, [{ contact: deal.contact, company: deal.company }], hand.at);
  });
}

/** Within its pipeline a deal goes where the charter lets a hand move it; into another one it may go from everywhere. */
function checkByHand(charter: Charter, from: string, to: Stage): void {
  const pipeline = pipelineOfStage(charter, from);
  if (pipeline === null || pipeline !== pipelineOfStage(charter, to.key)) return;
  if (!stagesByHand(charter, from).some(({ key }) => key === to.key))
    throw Refused.as('not-by-hand', { detail: `From its stage a hand may not move it to ${to.name}.` });
}
