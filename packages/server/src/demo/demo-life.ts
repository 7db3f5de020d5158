import { calendarOf, dayOf, readValue, type RepKey, countryToReadBy } from '@relvik/core';
import { DAYS, type DemoLead, type Ostervane } from '@relvik/demo';
import { type DataSource, In } from 'typeorm';
import { acceptLeads } from '../act/accept-leads';
import { type Act, edited, moved } from '../act/act';
import { act } from '../act/acting';
import type { Cause, WayIn } from '../act/cause';
import { freeBay } from '../act/free-bay';
import { perform } from '../act/perform';
import { handOnOverdue } from '../job/overdue';
import { passTime } from '../job/pass-time';
import { runSchedules } from '../job/schedules';
import { Refused } from '../problem/refused';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { QueueMemberEntity } from '../store/entity/people.entity';
import { readGoverning } from '../store/governing';
import { readOrganisation } from '../store/organisation';
import { loadLeads, placeOf, type StoredLead } from '../store/load-leads';
import { insertRows } from '../store/rows';
import { answerProposals } from './demo-answers';
import { doTasks, lookAfterTasks } from './demo-tasks';

const DAY = 86_400_000;
const ADMIN = { kind: 'hand', person: 'admin', name: 'Runa Vestmar' } as const satisfies Cause;

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
    for (const one of await takeInByHours(source, arrived, first + day * DAY, end))
      if (!living.has(one.id)) living.set(one.id, one);
    await happen(source, [...living.values()], first + day * DAY, end);
    await work(source, living, end, names);
    await answerProposals(source, end, names);
    await doTasks(source, end);
    await lookAfterTasks(source, end - 3 * DAY, ADMIN);
    await freeBay(source, new Date(end));
    await handOnOverdue(source, new Date(end));
    await runSchedules(source, () => new Date(end));
    if (day % 7 === 6 || day === DAYS) await passTime(source, new Date(end));
    if (day % 30 === 29) progress(`  ${day + 1} of ${DAYS} days, ${next} leads`);
  }
}

/** Takes a day's leads in, and lets those who wait go whenever someone's hours begin. */
async function takeInByHours(
  source: DataSource,
  leads: readonly DemoLead[],
  from: number,
  to: number,
): Promise<Living[]> {
  const people = await readOrganisation(source.manager);
  const begins = [...people.reps.values()].flatMap((rep) =>
    calendarOf(rep, people)
      .stretches(from, to)
      .map((one) => one.from),
  );
  const taken: Living[] = [];
  let since = from;
  for (const at of [...new Set([...begins.filter((begin) => begin > from), to])].sort((a, b) => a - b)) {
    const some = leads.filter((lead) => lead.at >= since && lead.at < at);
    if (some.length > 0) taken.push(...(await takeIn(source, some, new Date(at))));
    await freeBay(source, new Date(at));
    since = at;
  }
  return taken;
}

async function takeIn(source: DataSource, leads: readonly DemoLead[], now: Date): Promise<Living[]> {
  const accepted = await act(source, now, (acting) =>
    acceptLeads(
      acting,
      leads.map(({ at, way, values }) => ({
        cause: WAYS[way],
        at: new Date(at),
        values,
        owner: null,
        trusted: way !== 'form',
        setByItself: ['source'],
      })),
    ),
  );
  return leads.flatMap((lead, i) => {
    const taken = accepted[i];
    const outcome = taken instanceof Refused ? undefined : taken?.accepted;
    return outcome === undefined || outcome.joined ? [] : [{ lead, id: outcome.id }];
  });
}

const WAYS: { readonly [W in DemoLead['way']]: WayIn } = {
  form: { kind: 'form', name: 'sensing' },
  api: { kind: 'api', name: 'Fair app' },
  hand: { kind: 'hand', person: 'rep', name: 'Aksel Dahlstrøm' },
  csv: { kind: 'csv', name: 'Runa Vestmar' },
};

/** Activities and corrections between two instants; whoever is open is decided again. */
async function happen(source: DataSource, living: readonly Living[], from: number, to: number): Promise<void> {
  const touched = living.flatMap(({ id, lead }) => {
    const activities = lead.activities.filter(({ at }) => at >= from && at < to);
    const correction =
      lead.correction !== null && lead.correction.at >= from && lead.correction.at < to ? lead.correction : null;
    return activities.length > 0 || correction !== null ? [{ id, activities, correction }] : [];
  });
  if (touched.length === 0) return;
  await act(source, new Date(to), async (acting) => {
    const { manager } = acting;
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
    const acts = leads
      .filter(({ entity }) => entity.status === 'open')
      .map((lead): Act => {
        const correction = corrections.get(lead.entity.id) ?? null;
        const asOf = new Date(lastOf.get(lead.entity.id) ?? to);
        const day = dayOf(asOf.getTime(), governing.ready.charter.timeZone);
        const changed = new Map(
          Object.entries(correction?.values ?? {}).flatMap(([key, raw]) => {
            const field = governing.world.fields.get(key);
            if (field === undefined) return [];
            const country = countryToReadBy(
              field,
              governing.world.fields,
              'lead',
              (one) => correction?.values[one],
              lead.record.values,
            );
            return [[key, readValue(field, raw, day, country)] as const];
          }),
        );
        return edited(lead, changed, correction === null ? 'activity' : 'edited', ADMIN, asOf);
      })
      .sort((a, b) => a.asOf.getTime() - b.asOf.getTime());
    await perform(acting, acts, governing);
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
  const moves = new Map<number, (lead: StoredLead) => Act>();
  for (const lead of held) {
    const one = living.get(lead.id);
    if (one === undefined) continue;
    const days = (end - lead.since.getTime()) / DAY;
    const place = placeOf(lead);
    if (place.kind === 'queue') {
      const pickers = members.filter(
        (member) => member.queue === (place.queue as string) && !member.person.startsWith('manager'),
      );
      const person = pickers[lead.id % Math.max(1, pickers.length)]?.person;
      const patience = 1 + (lead.id % 9);
      if (person === undefined || days <= patience) continue;
      const at = new Date(end - (lead.id % 400) * 60_000);
      const to = { place: { kind: 'owner', rep: person as RepKey } } as const;
      moves.set(lead.id, (stored) =>
        moved(stored, to, { kind: 'hand', person, name: names.get(person) ?? person }, at),
      );
    } else if (place.kind === 'owner' && days > one.lead.workDays) {
      const at = new Date(end - (lead.id % 500) * 60_000);
      const { outcome, reason } = one.lead;
      const cause = { kind: 'hand', person: place.rep, name: names.get(place.rep) ?? place.rep } as const;
      moves.set(lead.id, (stored) => moved(stored, { place, closing: { outcome, reason } }, cause, at));
    }
  }
  await act(source, new Date(end), async (acting) => {
    const leads = await loadLeads(acting.manager, [...moves.keys()], 'write');
    await perform(
      acting,
      leads.flatMap((lead) => moves.get(lead.entity.id)?.(lead) ?? []),
    );
  });
}
