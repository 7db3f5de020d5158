import { dayOf, placeCode, readValue, type RepKey } from '@relvik/core';
import { DAYS, type DemoLead, type Ostervane } from '@relvik/demo';
import { type DataSource, In } from 'typeorm';
import { readGoverning } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { type Case, decideLeads } from '../act/decide-leads';
import { freeBay } from '../act/free-bay';
import { passTime } from '../job/pass-time';
import { insertRows } from '../store/rows';
import { acceptLeads } from '../act/accept-leads';
import { QueueMemberEntity } from '../store/entity/people.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads, placeOf } from '../store/load-leads';
import { closeLead, pickUpLead } from '../act/work-on-lead';

const DAY = 86_400_000;

/** A lead of the demo once it is a record. */
interface Living {
  readonly lead: DemoLead;
  readonly id: number;
}

/** Lives the demo's days: leads arrive, things happen, people work on them. */
export async function liveThrough(
  source: DataSource,
  world: Ostervane,
  now: Date,
  progress: (text: string) => void,
): Promise<void> {
  const names = new Map(world.people.map((person) => [person.key, person.name]));
  const living = new Map<number, Living>();
  const first = now.getTime() - DAYS * DAY;
  let next = 0;
  for (let day = 0; day <= DAYS; day += 1) {
    const end = Math.min(first + (day + 1) * DAY, now.getTime());
    const arrived: DemoLead[] = [];
    for (let lead = world.leads[next]; lead !== undefined && lead.at < end; lead = world.leads[next]) {
      arrived.push(lead);
      next += 1;
    }
    for (const one of await takeIn(source, arrived)) if (!living.has(one.id)) living.set(one.id, one);
    await happen(source, [...living.values()], first + day * DAY, end);
    await work(source, living, end, names);
    await freeBay(source, new Date(end));
    if (day % 7 === 6 || day === DAYS) await passTime(source, new Date(end));
    if (day % 30 === 29) progress(`  ${day + 1} of ${DAYS} days, ${next} leads`);
  }
}

async function takeIn(source: DataSource, leads: readonly DemoLead[]): Promise<Living[]> {
  const accepted = await inTransaction(source, (manager) =>
    acceptLeads(
      manager,
      leads.map(({ at, way, values }) => ({ way, by: wayName(way), at: new Date(at), values, owner: null })),
    ),
  );
  return leads.flatMap((lead, i) => {
    const outcome = accepted[i];
    return outcome === undefined || outcome.joined ? [] : [{ lead, id: outcome.id }];
  });
}

function wayName(way: DemoLead['way']): string {
  return { form: 'form sensing', api: 'key Fair app', hand: 'Aksel Dahlstrøm', csv: 'file' }[way];
}

/** Activities and corrections between two instants; whoever is open is decided again. */
async function happen(source: DataSource, living: readonly Living[], from: number, to: number): Promise<void> {
  const touched = living.flatMap(({ id, lead }) => {
    const activities = lead.activities.filter(({ at }) => at >= from && at < to);
    const correction =
      lead.correction !== null && lead.correction.at >= from && lead.correction.at < to ? lead.correction : null;
    return activities.length > 0 || correction !== null ? [{ id, activities, correction }] : [];
  });
  if (touched.length === 0) return;
  await inTransaction(source, async (manager) => {
    await insertRows(
      manager,
      ActivityEntity,
      touched.flatMap(({ id, activities }) =>
        activities.map(({ kind, at, properties = null }) => ({ record: id, kind, at: new Date(at), properties })),
      ),
    );
    const governing = await readGoverning(manager, 'share');
    const corrections = new Map(touched.map(({ id, correction }) => [id, correction]));
    const lastOf = new Map(
      touched.map(({ id, activities, correction }) => [
        id,
        Math.max(correction?.at ?? 0, ...activities.map(({ at }) => at)),
      ]),
    );
    const leads = await loadLeads(
      manager,
      touched.map(({ id }) => id),
      'write',
    );
    const cases = leads
      .filter(({ entity }) => entity.status === 'open')
      .map(({ entity, record }): Case => {
        const correction = corrections.get(entity.id) ?? null;
        const asOf = new Date(lastOf.get(entity.id) ?? to);
        const day = dayOf(asOf.getTime(), governing.ready.charter.timeZone);
        const changed = new Map(
          Object.entries(correction?.values ?? {}).flatMap(([key, raw]) => {
            const field = governing.world.fields.get(key);
            return field === undefined ? [] : [[key, readValue(field, raw, day)] as const];
          }),
        );
        return {
          record: { ...record, values: new Map([...record.values, ...changed]) },
          stored: entity,
          arrival: null,
          occasion: correction === null ? 'activity' : 'edited',
          asOf,
          by: 'Runa Vestmar',
          values: changed,
          valuesBefore: record.values,
        };
      })
      .sort((a, b) => a.asOf.getTime() - b.asOf.getTime());
    await decideLeads(manager, cases, governing);
  });
}

/** What people do by the end of a day: pick up from queues, and close what has had its time. */
async function work(
  source: DataSource,
  living: ReadonlyMap<number, Living>,
  end: number,
  names: ReadonlyMap<string, string>,
): Promise<void> {
  const { manager } = source;
  const members = await manager.find(QueueMemberEntity);
  const held = await manager.find(LeadEntity, {
    where: { status: 'open', place: In(['owner', 'queue']) },
    order: { id: 'ASC' },
  });
  for (const lead of held) {
    const one = living.get(lead.id);
    if (one === undefined) continue;
    const days = (end - lead.since.getTime()) / DAY;
    const place = placeOf(lead);
    if (place.kind === 'queue') {
      const pickers = members.filter(
        (member) => member.queue === (place.queue as string) && !member.person.startsWith('manager'),
      );
      const picker = pickers[lead.id % Math.max(1, pickers.length)];
      const patience = 1 + (lead.id % 9);
      if (picker !== undefined && days > patience)
        await pickUpLead(source, lead.id, picker.person as RepKey, {
          name: names.get(picker.person) ?? placeCode(place),
          at: new Date(end - (lead.id % 400) * 60_000),
        });
    } else if (place.kind === 'owner' && days > one.lead.workDays) {
      const at = new Date(end - (lead.id % 500) * 60_000);
      await closeLead(source, lead.id, one.lead.outcome, one.lead.reason, {
        name: names.get(place.rep) ?? place.rep,
        at,
      });
    }
  }
}
