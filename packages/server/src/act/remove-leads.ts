import { loadsBetween, type RepKey, type RouteKey, type Turn } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ActivityEntity, ChangeEntity, DecisionEntity, NoticeEntity } from '../store/entity/history.entity';
import { SentLeadEntity } from '../store/entity/intake.entity';
import { LeadEntity, RecordEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { RotaEntity } from '../store/entity/people.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { placeOf, type StoredLead, tiesOf } from '../store/load-leads';
import { lockRota, turnColumns, writeRota } from '../store/rota';
import { insertRows } from '../store/rows';
import type { Cause } from './cause';
import { byCause } from './history';
import type { Acting } from './perform';
import { touchParties } from './touch-parties';

/**
 * Removes leads that should never have been: out of lists and counts, loads given back, and the turn too if nobody was served
 * since. What is left is the record's id and its history, with who removed it and why.
 *
 * The leads must be locked.
 */
export async function removeLeads(
  acting: Acting,
  leads: readonly StoredLead[],
  cause: Cause,
  at: Date,
  reason: string,
): Promise<void> {
  if (leads.length === 0) return;
  const { manager } = acting;
  const ids = leads.map(({ entity }) => entity.id);
  const loads = leads.flatMap(({ record }) =>
    loadsBetween(record.standing, 'open', { kind: 'not-handed-over', verdict: null }).filter(({ by }) => by < 0),
  );
  const turns = await lastTurns(manager, ids);
  const reps = new Set<RepKey>(loads.map(({ rep }) => rep));
  const rota = await lockRota(
    manager,
    turns.map(({ route }) => route),
    reps,
  );
  for (const { rep, by } of loads) rota.loads.set(rep, (rota.loads.get(rep) ?? 0) + by);
  if (loads.length > 0) acting.frees = true;
  await manager.update(RecordEntity, { id: In(ids) }, { kind: 'removed' });
  for (const turn of turns) await giveTurnBack(manager, turn);
  await writeRota(manager, rota, [], reps);

  await insertRows(
    manager,
    ChangeEntity,
    leads.map(({ entity }) => ({
      ...byCause(cause),
      record: entity.id,
      field: 'place',
      from: placeOf(entity),
      to: null,
      reason,
      at,
    })),
  );
  await manager.delete(LeadEntity, { id: In(ids) });
  for (const entity of [
    FieldValueEntity,
    SaidValueEntity,
    SentLeadEntity,
    SideScoreEntity,
    ActivityEntity,
    DecisionEntity,
    NoticeEntity,
    OutboxEntity,
    ProposalEntity,
    TaskEntity,
  ])
    await manager.delete(entity, { record: In(ids) });
  await touchParties(
    manager,
    leads.map(({ entity }) => tiesOf(entity)),
    at,
  );
}

interface LastTurn {
  readonly record: number;
  readonly route: RouteKey;
  readonly before: Turn | null;
}

/** The newest turn that each lead took, the latest first. */
async function lastTurns(manager: EntityManager, ids: readonly number[]): Promise<LastTurn[]> {
  const decisions = await manager.find(DecisionEntity, { where: { record: In([...ids]) }, order: { id: 'DESC' } });
  const turns = new Map<number, LastTurn>();
  for (const { record, body } of decisions) {
    const { turn, place } = body;
    if (!turns.has(record) && turn?.after && place.kind === 'owner')
      turns.set(record, { record, route: turn.route, before: turn.before });
  }
  return [...turns.values()];
}

/** Puts the route's turn back to where it stood, if nobody was served by it since. The row is locked. */
async function giveTurnBack(manager: EntityManager, { record, route, before }: LastTurn): Promise<void> {
  const later = await manager.query<object[]>(
    `SELECT c.id FROM record_change c JOIN record ON record.id = c.record AND record.kind = 'lead'
     WHERE c.field = 'place' AND c.rule = ? AND c.id > (
       SELECT MAX(own.id) FROM record_change own WHERE own.record = ? AND own.field = 'place' AND own.rule = ?
     ) AND c.record <> ? AND JSON_VALUE(c.\`to\`, '$.kind') = 'owner' LIMIT 1`,
    [route, record, route, record],
  );
  if (later.length > 0) return;
  await manager.update(RotaEntity, { route }, turnColumns(before));
}
