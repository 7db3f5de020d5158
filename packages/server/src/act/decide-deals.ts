import {
  type Appraisal,
  appraise,
  changesAt,
  enteredAt,
  type MadeTask,
  type MovingRecord,
  type Occasion,
  type PersonMove,
  tasksMade,
  type Place,
  type RepKey,
  type Value,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { DealEntity } from '../store/entity/deal.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { scoredColumns } from '../store/entity/scored.entity';
import type { Governing } from '../store/governing';
import { tiesOfUnrouted } from '../store/load-unrouted';
import { loadDeals, movingDeal, type StoredDeal } from '../store/moving-deal';
import { insertRows } from '../store/rows';
import { type ChangeSource, lineBy } from './change-source';
import { followDeals, type OfDeals } from './follow-deals';
import { blankAsNull, byRule } from './history';
import { writeProposals } from './proposals';
import { writeRecordValues } from './record-values';
import { followRecords, taskRows } from './task/follow-records';
import { touchParties } from './touch-parties';
import { writeGateChanges } from './write';
import { writeSideScores } from './write-scores';

/** An act on one deal. */
export interface DealAct {
  /** Its row locked. */
  readonly deal: StoredDeal;
  readonly occasion: Exclude<Occasion, 'looked-at'>;
  /** The move that a person makes first; null: none. */
  readonly person: (PersonMove & { readonly reason: string | null }) | null;
  /** Values that change with it. */
  readonly values: ReadonlyMap<string, Value>;
  readonly by: ChangeSource;
  /** Its open tasks stay open where it is closed. Missing: they are cancelled. */
  readonly keepTasks?: boolean;
  /** The tasks of gates are left out. Missing: they are made. */
  readonly withoutTasks?: boolean;
}

/** A deal before and after it was decided. */
export interface DealOutcome {
  readonly act: { readonly record: MovingRecord; readonly stored: DealEntity; readonly asOf: Date };
  readonly after: DealEntity;
  readonly decision: Appraisal;
  readonly tasks: readonly MadeTask[];
  /** The number of the charter that decided it. */
  readonly charter: number;
}

/** Decides one deal of whose change the transaction is. */
export async function decideDeal(
  manager: EntityManager,
  id: number,
  occasion: DealAct['occasion'],
  inForce: Governing,
  by: ChangeSource,
): Promise<void> {
  const [deal] = await loadDeals(manager, [id], inForce.ready, 'write');
  if (deal === undefined) return;
  await decideDeals(manager, [{ deal, occasion, person: null, values: new Map(), by }], inForce, inForce);
}

/** Decides deals that were just made. */
export async function decideNewDeals(
  manager: EntityManager,
  made: readonly { readonly id: number; readonly by: ChangeSource }[],
  inForce: Governing,
): Promise<void> {
  const by = new Map(made.map((one) => [one.id, one.by]));
  const deals = await loadDeals(manager, [...by.keys()], inForce.ready, 'write');
  const acts = deals.flatMap((deal): DealAct[] => {
    const source = by.get(deal.entity.id);
    return source === undefined ? [] : [{ deal, occasion: 'created', person: null, values: new Map(), by: source }];
  });
  await decideDeals(manager, acts, inForce, inForce);
}

/**
 * Scores deals, takes them through the gates, and writes all that follows, inside the caller's transaction. A closed one keeps its score
 * and stands still, unless a person moves it.
 *
 * @param deciding the charter that decides them: the one in force, or for what time alone does the one that decided them last
 */
export async function decideDeals(
  manager: EntityManager,
  acts: readonly DealAct[],
  deciding: Governing,
  inForce: Governing,
): Promise<DealOutcome[]> {
  const outcomes: DealOutcome[] = [];
  const lines: Partial<ChangeEntity>[] = [];
  const made: Partial<TaskEntity>[] = [];
  const follow: OfDeals[] = [];
  for (const act of acts) {
    const { deal, person, values, by } = act;
    if (values.size > 0) await writeRecordValues(manager, deal.entity.id, values, by);
    const outcome = deal.entity.status === 'open' || person !== null ? outcomeOf(act, deciding) : null;
    await manager.update(DealEntity, deal.entity.id, outcome?.after ?? { due: null, touched: false });
    if (outcome === null) continue;
    outcomes.push(outcome);
    follow.push(...ofLead(outcome, by));
    const { after, tasks } = outcome;
    const endsTasks = deal.entity.status === 'open' && after.status !== 'open' && act.keepTasks !== true;
    if (endsTasks)
      await followRecords(
        manager,
        [{ id: after.id, owner: { before: after.owner, after: after.owner }, endsTasks }],
        by.at,
      );
    made.push(...taskRows(tasks, after.id, outcome.charter, by.at));
    lines.push(...linesOf(act, outcome));
    if (person !== null || outcome.decision.gates.moves.length > 0)
      await touchParties(manager, [tiesOfUnrouted(deal.entity)], by.at);
  }
  await insertRows(manager, TaskEntity, made);
  await insertRows(manager, ChangeEntity, lines);
  await writeSideScores(
    manager,
    outcomes.map(({ after: { id }, decision: { score } }) => ({ id, score })),
  );
  await writeGateChanges(manager, outcomes);
  await writeProposals(manager, outcomes, inForce);
  await followDeals(manager, follow, inForce);
  return outcomes;
}

/** The lead of a deal that was made, closed or opened again. */
function ofLead({ act: { stored }, after, decision: { occasion } }: DealOutcome, by: ChangeSource): OfDeals[] {
  const isOther = occasion === 'created' || stored.status !== after.status;
  if (after.lead === null || !isOther) return [];
  return [
    {
      ...{ lead: after.lead, name: after.name, after: after.status, by },
      before: occasion === 'created' ? null : stored.status,
    },
  ];
}

function outcomeOf(
  { deal, occasion, person, values, by, withoutTasks = false }: DealAct,
  { ready, world, number }: Governing,
): DealOutcome {
  const { entity } = deal;
  const asOf = by.at.getTime();
  const stored = movingDeal(deal);
  const record: MovingRecord = {
    ...stored,
    values: new Map([...stored.values, ...values]),
    // A person may open again what was closed.
    standing: { ...stored.standing, status: 'open' },
  };
  const decision = appraise(ready, record, world, occasion, asOf, person);
  const { gates, stage, status } = decision;
  const moves = gates.moves.length > 0;
  const changed = moves || gates.changes.length > 0 || values.size > 0;
  const place: Place = stored.standing.place ?? { kind: 'not-handed-over', verdict: decision.grade?.verdict ?? null };
  const { scoreSets, gates: rules } = ready.rules.deal;
  const movesByTime = scoreSets.length > 0 || rules.length > 0;
  const due = status === 'open' && movesByTime ? changesAt(ready, record, { ...decision, place }, world, asOf) : null;
  const after: DealEntity = {
    ...entity,
    ...scoredColumns(decision),
    ...{ stage, status, looks: Object.fromEntries(gates.looks) },
    stageSince: new Date(enteredAt(record, moves, asOf)),
    closedAt: status === 'open' ? null : moves ? by.at : entity.closedAt,
    closeReason: status === 'open' ? null : moves ? closedBecause(person, decision) : entity.closeReason,
    version: entity.version + (changed ? 1 : 0),
    touchedAt: changed ? by.at : entity.touchedAt,
    due: due === null ? null : new Date(due),
    touched: false,
    changes: entity.changes + 1,
    charter: number,
    scoredAt: by.at,
  };
  const tasks = withoutTasks ? [] : tasksMade(ready, 'deal', decision, null, entity.owner as RepKey | null, world);
  return { act: { record, stored: entity, asOf: by.at }, after, decision, tasks, charter: number };
}

/** The words of the person who closed it, else the gate that did. */
function closedBecause(person: DealAct['person'], { gates: { moves } }: Appraisal): string | null {
  const gate = moves.at(-1)?.gate ?? null;
  return (moves.length === 1 ? (person?.reason ?? null) : null) ?? (gate === null ? null : `Gate ${gate}`);
}

/** The lines of history that it leaves. */
function linesOf(
  { deal, person, values, by }: DealAct,
  { act: { record, stored }, after, decision: { gates }, tasks, charter }: DealOutcome,
): Partial<ChangeEntity>[] {
  const hand = lineBy(stored.id, by);
  const rule = (gate: string | null) => ({ ...hand, ...byRule(charter, gate) });
  const lines: Partial<ChangeEntity>[] = [];
  for (const [field, value] of values)
    lines.push({ ...hand, field, from: deal.record.values.get(field) ?? null, to: blankAsNull(value) });
  gates.moves.forEach(({ from, to, gate }, i) => {
    // A person made the first move.
    const who = i === 0 && person !== null ? { ...hand, rule: gate, reason: person.reason } : rule(gate);
    lines.push({ ...who, field: 'stage', from, to });
  });
  for (const { field, value, gate } of gates.changes)
    lines.push({ ...rule(gate), field, from: record.values.get(field) ?? null, to: blankAsNull(value) });
  for (const { title, rule: maker } of tasks) lines.push({ ...rule(maker), field: 'task', from: null, to: title });
  if (after.status !== stored.status) {
    const last = gates.moves.at(-1)?.gate ?? null;
    const who = person !== null && gates.moves.length === 1 ? { ...hand, reason: person.reason } : rule(last);
    lines.push({ ...who, field: 'status', from: stored.status, to: after.status });
  }
  return lines;
}
