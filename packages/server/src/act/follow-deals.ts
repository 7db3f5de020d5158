import { advance, loadsBetween, stagesOf, type StageKey, type Status, statusByDeals } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { DealEntity } from '../store/entity/deal.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import type { Governing } from '../store/governing';
import { loadLeads, placeOf, type StoredLead } from '../store/load-leads';
import { openForOf } from '../store/open-for';
import { insertRows } from '../store/rows';
import { lockRota, writeRota } from '../store/rota';
import { type Act, moved } from './act';
import { type ChangeSource, lineBy } from './change-source';
import { leadMoved } from './lead-after';
import { writeProposals } from './proposals';
import { write } from './write';

type OwnDeal = Pick<DealEntity, 'id' | 'name' | 'status'> & { readonly lead: number };

/** A deal of a lead that was made, closed or opened again. */
export interface OfDeals {
  readonly lead: number;
  readonly name: string;
  /** Null: it was just made. */
  readonly before: Status | null;
  readonly after: Status;
  readonly by: Pick<ChangeSource, 'cause' | 'at'>;
}

const NOBODY_TOUCHED = { contact: new Set<number>(), company: new Set<number>() };

/**
 * Leads follow their deals, in the transaction that changes these: a lead is won by its first won deal, lost when none is open and none
 * was won, and open again when a deal of it is. One that was disqualified stays so, and one beside which another lead of the same
 * person is open by now stays closed.
 */
export async function followDeals(
  manager: EntityManager,
  changed: readonly OfDeals[],
  inForce: Governing,
): Promise<void> {
  const ids = [...new Set(changed.map(({ lead }) => lead))].sort((a, b) => a - b);
  if (ids.length === 0) return;
  const leads = await loadLeads(manager, ids, 'write');
  const deals = (await manager.find(DealEntity, {
    select: { id: true, name: true, status: true, lead: true },
    where: { lead: In(ids) },
    order: { id: 'ASC' },
  })) as OwnDeal[];
  const counted: number[] = [];
  const lines: Partial<ChangeEntity>[] = [];
  for (const lead of leads) {
    const own = deals.filter((deal) => deal.lead === lead.entity.id);
    const { entity } = lead;
    const here = changed.filter((one) => one.lead === entity.id);
    const isReopened = here.some(({ before, after }) => before !== null && before !== 'open' && after === 'open');
    lines.push(...here.map((one) => ({ ...lineBy(entity.id, one.by), ...lineOf(one) })));
    entity.openDeals = own.filter(({ status }) => status === 'open').length;
    const last = here.at(-1);
    const act = last === undefined ? null : await actOf(manager, lead, own, isReopened, inForce, last.by);
    if (act === null) counted.push(entity.id);
    else await carryOut(manager, act, inForce);
  }
  await recountDeals(manager, counted);
  // Also so that whoever keeps the leads in memory knows that they changed.
  await insertRows(manager, ChangeEntity, lines);
}

function lineOf({ name, before, after }: OfDeals): Pick<ChangeEntity, 'field' | 'from' | 'to'> {
  return before === null ? { field: 'deal', from: null, to: name } : { field: 'deal', from: name, to: after };
}

/** Counts the open deals of leads anew, after deals were moved between them or taken away. */
export async function recountDeals(manager: EntityManager, leads: readonly number[]): Promise<void> {
  if (leads.length === 0) return;
  await manager.query(
    "UPDATE `lead` l SET open_deals = (SELECT COUNT(*) FROM deal d WHERE d.lead = l.id AND d.status = 'open') WHERE l.id IN (?)",
    [leads],
  );
}

async function actOf(
  manager: EntityManager,
  lead: StoredLead,
  own: readonly OwnDeal[],
  isReopened: boolean,
  { ready }: Governing,
  { cause, at }: Pick<ChangeSource, 'cause' | 'at'>,
): Promise<Act | null> {
  const { status } = lead.entity;
  const outcome = statusByDeals(own.map((deal) => deal.status));
  if (status === 'disqualified' || status === outcome) return null;
  const here = placeOf(lead.entity);
  const place = here.kind === 'owner' ? here : ({ kind: 'not-handed-over', verdict: lead.entity.verdict } as const);
  if (outcome !== null) return moved(lead, { place, closing: { outcome, reason: reasonOf(own, outcome) } }, cause, at);
  if (status === 'open' || !isReopened || (await isAnotherOpen(manager, lead.entity))) return null;
  const stages = stagesOf(ready.charter, 'lead');
  const closes = stages.some(({ key, kind }) => key === (lead.entity.stage as StageKey) && kind !== 'open');
  const stage = closes ? await stageBefore(manager, lead.entity) : lead.entity.stage;
  return stage === null ? null : moved(lead, { place: here, reopens: { stage } }, cause, at);
}

function reasonOf(own: readonly OwnDeal[], outcome: Status): string {
  const named = own.findLast(({ status }) => status === outcome)?.name ?? '';
  const deal = named === '' ? 'a deal of it' : `its deal “${named}”`;
  return `${deal} was ${outcome}`.slice(0, 500);
}

/** Whether another lead of the same person is open in its pipeline. */
function isAnotherOpen(manager: EntityManager, { id, pipeline, ...lead }: LeadEntity): Promise<boolean> {
  const openFor = openForOf({ ...lead, company: lead.companyId });
  return openFor === null
    ? Promise.resolve(false)
    : manager
        .createQueryBuilder(LeadEntity, 'lead')
        .where('lead.openFor = :openFor AND lead.pipeline = :pipeline AND lead.id <> :id', { openFor, pipeline, id })
        .getExists();
}

/** The stage in which it stood before it entered one that closes. */
async function stageBefore(manager: EntityManager, { id, stage }: LeadEntity): Promise<string | null> {
  const moves = await manager.find(ChangeEntity, { where: { record: id, field: 'stage' }, order: { id: 'DESC' } });
  const last = moves.find(({ to }) => to === stage)?.from ?? null;
  return typeof last === 'string' ? last : null;
}

/** Closes a lead, or opens it again: no rule is asked. */
async function carryOut(manager: EntityManager, act: Act, inForce: Governing): Promise<void> {
  const { change, stored, record, asOf } = act;
  if (change.kind !== 'move' || stored === null) return;
  const after = leadMoved(stored, change, asOf, inForce);
  const loads = loadsBetween(record.standing, after.status, change.place);
  const reps = loads.map(({ rep }) => rep);
  const rota = await lockRota(manager, [], reps);
  advance(rota, { turn: null, loads, asOf: asOf.getTime() });
  const outcome = { act, charter: inForce.number, after, decision: null, notify: [] };
  await write(manager, [outcome], NOBODY_TOUCHED);
  await writeProposals(manager, [outcome], inForce);
  await writeRota(manager, rota, [], reps);
}
