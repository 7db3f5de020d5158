import type { GradeMove, LeadDetail, Reading, Reasoning } from '@relvik/contracts';
import {
  appraise,
  bindCharter,
  decide,
  emptyRota,
  gateAlong,
  keyOfRole,
  stagesByHand,
  type Decision,
  type MovingRecord,
  pointsChanges,
  readAcrossTies,
  type RepKey,
  showValue,
  type World,
} from '@relvik/core';
import { type EntityManager, In, LessThanOrEqual } from 'typeorm';
import { CharterEntity } from '../store/entity/charter.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { readFields, readGoverning } from '../store/governing';
import { charterNumbered, decisionOf } from '../store/kept-decision';
import { gatesOfLead } from '../act/gates-of-lead';
import { JOIN_UNDO } from '../act/join-leads';
import { rightsOn } from '../session/rights';
import { recordsInSight, type Sight, sightOf } from '../session/sight';
import type { User } from '../session/session-store';
import { CompanyEntity } from '../store/entity/company.entity';
import { ActivityEntity, ChangeEntity, DecisionEntity } from '../store/entity/history.entity';
import { JoinedLeadEntity } from '../store/entity/joined-lead.entity';
import type { LeadEntity } from '../store/entity/lead.entity';
import { leadInSight, rowOfLead } from '../list/lead-list';
import { ShownGrades } from '../list/shown-grades';
import { saidValue } from '../list/said-rows';
import { obstaclesNow } from './obstacles-now';
import { pastProposal } from './proposals';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { loadLeads, type StoredLead, withTiedValues } from '../store/load-leads';
import { changeLine } from './change-line';
import { tiesOfLead } from './record-detail';

/** Everything that a lead's page shows, but the reasoning. */
export async function detailOf(
  manager: EntityManager,
  lead: LeadEntity,
  sight: Sight,
  user: User,
  now: Date,
): Promise<LeadDetail> {
  const [[stored], activities, changes, ties, joined, said, proposals, openTasks] = await Promise.all([
    loadLeads(manager, [lead.id], 'none'),
    manager.find(ActivityEntity, { where: { record: lead.id }, order: { at: 'DESC' }, take: 200 }),
    manager.find(ChangeEntity, { where: { record: lead.id }, order: { id: 'DESC' }, take: 200 }),
    tiesOfLead(manager, lead),
    manager.find(JoinedLeadEntity, { where: { older: lead.id }, order: { at: 'DESC' } }),
    manager.find(SaidValueEntity, { where: { record: lead.id }, order: { field: 'ASC' } }),
    manager.find(ProposalEntity, { where: { record: lead.id }, order: { id: 'DESC' }, take: 100 }),
    manager.countBy(TaskEntity, { record: lead.id, state: 'open' }),
  ]);
  const may = rightsOn(lead, sight, user);
  return {
    ...rowOfLead(lead, await ShownGrades.of(manager, [lead])),
    version: lead.version,
    test: lead.test,
    closeReason: lead.closeReason,
    pin: lead.pin,
    deputyFor: lead.deputyFor as RepKey | null,
    ties,
    values: [...(stored?.record.values ?? [])].map(([field, value]) => ({
      field,
      shown: showValue(value),
      unreadable: value.kind === 'unreadable' ? value.why : null,
    })),
    activities: activities.map(({ kind, at, properties }) => ({
      kind,
      at: at.getTime(),
      ...(properties === null ? {} : { properties }),
    })),
    history: changes.map(changeLine),
    said: said.map(saidValue),
    joined: joined.map(({ id, at, undo }) => ({
      id,
      name: undo.lead.name || undo.lead.company,
      at: at.getTime(),
      undoUntil: at.getTime() + JOIN_UNDO,
    })),
    ofDeals: await dealsOf(manager, lead.id, sight),
    openTasks,
    proposals: proposals.map(pastProposal),
    moves: may.move && stored !== undefined ? await movesOf(manager, stored, now) : [],
    may,
  };
}

/** The deals of a lead that are in sight. */
async function dealsOf(manager: EntityManager, lead: number, sight: Sight): Promise<LeadDetail['ofDeals']> {
  const query = manager.createQueryBuilder(DealEntity, 'r').where('r.lead = :lead', { lead }).orderBy('r.id', 'DESC');
  const deals = await recordsInSight(query, 'deal', sight).take(50).getMany();
  if (deals.length === 0) return [];
  const key = keyOfRole(await readFields(manager), 'deal', 'amount');
  const amounts = await manager.findBy(FieldValueEntity, { record: In(deals.map(({ id }) => id)), field: key ?? '' });
  const shown = new Map(amounts.map((one) => [one.record, one.shown]));
  return deals.map(({ id, name, stage, status }) => ({ id, name, stage, status, amount: shown.get(id) ?? '' }));
}

/** The lead as it is after work on it, also where it has left the user’s sight. */
export async function leadAfterwards(manager: EntityManager, id: number, user: User, now: Date): Promise<LeadDetail> {
  const lead = await leadInSight(manager, { all: true }, id);
  return detailOf(manager, lead, await sightOf(manager, user), user, now);
}

/** Where a hand may move a lead, and whether it takes a reason. */
async function movesOf(manager: EntityManager, stored: StoredLead, now: Date): Promise<LeadDetail['moves']> {
  const governing = await readGoverning(manager, 'none');
  const gates = await gatesOfLead(manager, stored, governing, now);
  return stagesByHand(governing.ready.charter, stored.entity.stage).map(({ key }) => ({
    stage: key,
    needsReason: gateAlong(gates, key) === null,
  }));
}

/** What a rep is told of colleagues: that they were not available, not why. */
function discreet(decision: Decision, user: User): Decision {
  if (user.role !== 'rep') return decision;
  const skipped = decision.skipped.map((one) =>
    one.rep === user.key ? one : { ...one, exclusion: { why: 'not-available' as const } },
  );
  return { ...decision, skipped, turn: null, loads: [] };
}

/** Whether only numbers changed since its last decision, so that no decision was kept for it. */
function isRescored({ decidedAt, charter }: LeadEntity, last: DecisionEntity): boolean {
  return decidedAt.getTime() > last.asOf.getTime() || charter !== last.charter;
}

/**
 * The last decision with the score that is shown: where only the score changed since, as time passed, it is computed again
 * at the instant and by the charter that it is from.
 */
async function asShown(
  manager: EntityManager,
  lead: LeadEntity,
  record: MovingRecord,
  last: DecisionEntity,
  world: Omit<World, 'rota'>,
): Promise<Decision> {
  const decided = decisionOf(last, await charterNumbered(manager, last.charter));
  if (!isRescored(lead, last)) return decided;
  const binding = bindCharter(await charterNumbered(manager, lead.charter), world);
  if (!binding.ok) return decided;
  const { score, rank, grade } = appraise(binding.ready, record, world, 'enacted', lead.decidedAt.getTime());
  return { ...decided, score, rank, grade };
}

/** When the grade last moved, on what occasion, and which signals gave other points than at the decision before. */
async function gradeMoveOf(manager: EntityManager, { id }: LeadEntity): Promise<GradeMove | null> {
  const change = await manager.findOne(ChangeEntity, { where: { record: id, field: 'grade' }, order: { id: 'DESC' } });
  if (change === null) return null;
  const [moved, before] = await manager.find(DecisionEntity, {
    where: { record: id, asOf: LessThanOrEqual(change.at) },
    order: { id: 'DESC' },
    take: 2,
  });
  if (moved === undefined) return null;
  const scoreOf = async (one: DecisionEntity): Promise<Decision['score']> =>
    decisionOf(one, await charterNumbered(manager, one.charter)).score;
  const changes = pointsChanges(before === undefined ? null : await scoreOf(before), await scoreOf(moved));
  return {
    at: change.at.getTime(),
    from: typeof change.from === 'string' ? change.from : null,
    occasion: moved.occasion,
    changes,
  };
}

/** The owner to whom a route leads because the company is theirs, and since when; null: none does. */
async function companyOwnerOf(
  manager: EntityManager,
  { companyId }: LeadEntity,
  { routing }: Decision,
): Promise<Reasoning['companyOwner']> {
  const match = routing?.match;
  if (match?.kind !== 'matched' || match.asOwner !== true || match.to.kind !== 'rep' || companyId === null) return null;
  const given = await manager.findOne(ChangeEntity, {
    where: { record: companyId, field: 'place' },
    order: { id: 'DESC' },
  });
  const since = given?.at ?? (await manager.findOneByOrFail(CompanyEntity, { id: companyId })).arrived;
  return { rep: match.to.rep, since: since.getTime() };
}

/** Both readings of a lead's reasoning: as decided, and as it would be decided now. */
export async function reasoningOf(manager: EntityManager, lead: LeadEntity, user: User, now: Date): Promise<Reasoning> {
  const governing = await readGoverning(manager, 'none');
  const tied = readAcrossTies(governing.world.fields.keys(), 'lead');
  const [stored] = await withTiedValues(manager, await loadLeads(manager, [lead.id], 'none'), tied);
  const decisions = await manager.find(DecisionEntity, { where: { record: lead.id }, order: { id: 'DESC' }, take: 20 });
  const last = decisions[0];
  if (stored === undefined || last === undefined) throw new Error(`Lead ${lead.id} was never decided`);
  const charters = await manager.find(CharterEntity, { select: { number: true, name: true } });
  const nameOf = (number: number): Reading['charter'] => ({
    number,
    name: charters.find((c) => c.number === number)?.name ?? '',
  });
  const world = { ...governing.world, rota: emptyRota() };
  const decisionNow = decide(governing.ready, stored.record, world, 'looked-at', now.getTime());
  return {
    then: {
      decision: discreet(await asShown(manager, lead, stored.record, last, governing.world), user),
      charter: nameOf(last.charter),
    },
    rescored: isRescored(lead, last) ? { at: lead.decidedAt.getTime(), charter: nameOf(lead.charter) } : null,
    gradeMoved: await gradeMoveOf(manager, lead),
    notMoved: lead.status === 'open' ? obstaclesNow(governing, stored.record, now) : [],
    now: { decision: discreet(decisionNow, user), charter: nameOf(governing.number) },
    companyOwner: await companyOwnerOf(manager, lead, decisionNow),
    earlier: decisions.map((one) => ({
      at: one.asOf.getTime(),
      occasion: one.occasion,
      charter: one.charter,
      grade: one.grade,
      stage: one.stage,
    })),
  };
}
