import {
  type Closing,
  dayOf,
  loadsBetween,
  type Place,
  placeCode,
  type Raw,
  readValue,
  type RepKey,
  sameValue,
  type Status,
  type Value,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { readGoverning } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { decideLeads } from './decide-leads';
import { insertRows } from '../store/rows';
import { Refused } from '../problem/refused';
import { PersonEntity } from '../store/entity/people.entity';
import { lockRota, writeRota } from '../store/rota';
import { ChangeEntity, NoticeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads, placeOf, type StoredLead } from '../store/load-leads';

/** Who works, and when. */
export interface Hand {
  readonly name: string;
  readonly at: Date;
}

async function lockLead(manager: EntityManager, id: number): Promise<StoredLead> {
  const [lead] = await loadLeads(manager, [id], 'write');
  if (lead === undefined) throw Refused.notFound();
  return lead;
}

function mustBeOpen({ entity }: StoredLead): void {
  if (entity.status !== 'open') throw Refused.as('lead-closed', { detail: `It was closed as ${entity.status}.` });
}

/** Changes field values by hand; the lead is decided again. */
export async function editLead(
  source: DataSource,
  id: number,
  version: number,
  raw: Readonly<Record<string, Raw>>,
  hand: Hand,
): Promise<void> {
  await inTransaction(source, async (manager) => {
    const lead = await lockLead(manager, id);
    if (lead.entity.version !== version) {
      throw Refused.as('lead-changed');
    }
    const governing = await readGoverning(manager, 'share');
    const day = dayOf(hand.at.getTime(), governing.ready.charter.timeZone);
    const values = new Map(lead.record.values);
    const changed = new Map<string, Value>();
    for (const [key, written] of Object.entries(raw)) {
      const field = governing.world.fields.get(key);
      if (field === undefined || field.retired)
        throw Refused.invalid([{ path: `/values/${key}`, message: 'is no field' }]);
      const value = readValue(field, written, day);
      if (sameValue(values.get(key), value)) continue;
      values.set(key, value);
      changed.set(key, value);
    }
    if (changed.size === 0) return;
    await decideLeads(
      manager,
      [
        {
          record: { ...lead.record, values },
          stored: lead.entity,
          arrival: null,
          occasion: 'edited',
          asOf: hand.at,
          by: hand.name,
          values: changed,
          valuesBefore: lead.record.values,
        },
      ],
      governing,
    );
  });
}

/** Writes where a lead is and whether it is open, by hand, with loads and history. */
async function moveByHand(
  manager: EntityManager,
  { entity, record }: StoredLead,
  to: { place: Place; status: Status; reason?: string },
  hand: Hand,
): Promise<void> {
  const loads = loadsBetween(record, to.status, to.place);
  const reps = loads.map((load) => load.rep);
  const rota = await lockRota(manager, [], reps);
  for (const { rep, by } of loads) rota.loads.set(rep, (rota.loads.get(rep) ?? 0) + by);
  const closes = record.status === 'open' && to.status !== 'open';
  const changes: Partial<ChangeEntity>[] = [];
  const note = (field: string, from: string, now: string): void => {
    if (from !== now) changes.push({ record: entity.id, field, from, to: now, at: hand.at, by: hand.name });
  };
  note('place', placeCode(placeOf(entity)), placeCode(to.place));
  note('status', entity.status, closes ? `${to.status}: ${to.reason ?? ''}` : to.status);
  await manager.update(LeadEntity, entity.id, {
    version: entity.version + 1,
    status: to.status,
    place: to.place.kind,
    owner: to.place.kind === 'owner' ? to.place.rep : null,
    queue: null,
    bay: null,
    bayTeam: null,
    since: hand.at,
    touchedAt: hand.at,
    ...(closes ? { closedAt: hand.at, closeReason: to.reason ?? null, openEmail: null } : {}),
  });
  await insertRows(manager, ChangeEntity, changes);
  await writeRota(manager, rota, [], reps);
}

/** Gives a lead to someone by hand: limits do not bind a person's judgement, but who may take no leads gets none. */
export async function assignLead(source: DataSource, id: number, rep: RepKey, hand: Hand): Promise<void> {
  await inTransaction(source, async (manager) => {
    const lead = await lockLead(manager, id);
    mustBeOpen(lead);
    const person = await manager.findOneBy(PersonEntity, { key: rep, retired: false });
    if (person === null) throw Refused.invalid([{ path: '/rep', message: 'is nobody here' }]);
    if (!person.mayTakeLeads)
      throw Refused.invalid([
        {
          path: '/rep',
          message: `${person.name} may not take leads${person.whyNot === null ? '' : `: ${person.whyNot}`}`,
        },
      ]);
    if (lead.entity.owner === rep) return;
    await moveByHand(manager, lead, { place: { kind: 'owner', rep }, status: 'open' }, hand);
    await insertRows(manager, NoticeEntity, [{ person: rep, queue: null, kind: 'assigned', record: id, at: hand.at }]);
  });
}

/** Takes a lead out of a queue. Of two at the same moment exactly one gets it. */
export async function pickUpLead(source: DataSource, id: number, rep: RepKey, hand: Hand): Promise<void> {
  await inTransaction(source, async (manager) => {
    const lead = await lockLead(manager, id);
    mustBeOpen(lead);
    if (lead.entity.place !== 'queue') throw Refused.as('picked-up-already');
    await moveByHand(manager, lead, { place: { kind: 'owner', rep }, status: 'open' }, hand);
  });
}

/** Closes a lead with a reason; its owner's load is freed. */
export async function closeLead(
  source: DataSource,
  id: number,
  outcome: Closing,
  reason: string,
  hand: Hand,
): Promise<void> {
  await inTransaction(source, async (manager) => {
    const lead = await lockLead(manager, id);
    mustBeOpen(lead);
    const here = placeOf(lead.entity);
    const place: Place = here.kind === 'owner' ? here : { kind: 'not-handed-over', verdict: lead.entity.verdict };
    await moveByHand(manager, lead, { place, status: outcome, reason }, hand);
  });
}
