import {
  changePresenceSchema,
  changeQueueSchema,
  changeRepSchema,
  changeSkillsSchema,
  changeTeamSchema,
  type Fairness,
  fairnessQuerySchema,
  type HolidayPlace,
  makePersonSchema,
  makeTeamSchema,
  type Retired,
  retirePersonSchema,
  type Home,
  type People,
  type PersonRow,
  type TeamWeek,
  weekQuerySchema,
} from '@relvik/contracts';
import { calendarOf, hoursOf, type Organisation, type RepKey } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { object, string } from 'yup';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byKey } from '../http/read';
import { changePresence, changeRep, changeSkills, changeTeam, removeSkills } from '../act/change-people';
import { changeQueue, removeQueue } from '../act/change-queues';
import { makePerson, makeTeam, removeTeam, retirePerson } from '../act/come-and-go';
import { heldBy } from '../act/queue-work';
import { fairnessOf } from '../reasoning/fairness';
import { weekOf } from '../reasoning/week';
import { readOrganisation } from '../store/organisation';
import { holidayPlaces } from '../store/public-holidays';
import type { WatershedCounts } from '../watershed/watershed-counts';
import { LeadEntity } from '../store/entity/lead.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  TeamEntity,
  TeamMemberEntity,
} from '../store/entity/people.entity';
import type { User } from '../session/session-store';
import { type Sight, sightOf } from '../session/sight';

/** People, teams and queues as far as a user sees them. */
async function peopleInSight(manager: EntityManager, sight: Sight, user: User, now: Date): Promise<People> {
  const [people, loads, teams, members, queues, pickers, organisation, held, waiting] = await Promise.all([
    manager.find(PersonEntity, { where: { retired: false }, order: { name: 'ASC' } }),
    manager.find(RepLoadEntity),
    manager.find(TeamEntity, { order: { name: 'ASC' } }),
    manager.find(TeamMemberEntity, { order: { joined: 'ASC' } }),
    manager.find(QueueEntity, { order: { name: 'ASC' } }),
    manager.find(QueueMemberEntity),
    readOrganisation(manager),
    heldBy(manager, user.key),
    manager
      .createQueryBuilder(LeadEntity, 'lead')
      .select('lead.queue', 'queue')
      .addSelect('COUNT(*)', 'count')
      .where({ place: 'queue', status: 'open' })
      .groupBy('lead.queue')
      .getRawMany<{ queue: string; count: string }>(),
  ]);
  const openOf = (key: string): number => loads.find((load) => load.rep === key)?.open ?? 0;
  const seen = people.filter((person) => sight.all || sight.owners.includes(person.key));
  const seenKeys = new Set(seen.map((person) => person.key));
  const inTeam = (team: string): TeamMemberEntity[] => members.filter((m) => m.team === team && seenKeys.has(m.person));
  return {
    people: seen.map(
      ({ key, name, role, mayTakeLeads, whyNot, takes, weight, hours, holidaysOf, daysOff, ...own }) => ({
        email: user.role === 'admin' ? own.email : null,
        ...{ key, name, role, mayTakeLeads, whyNot, limit: takes, weight: weight / 100, hours, holidaysOf },
        // A colleague’s days off are their own affair, and their managers’.
        ...{ daysOff: sight.all || sight.leads.length > 0 || sight.self === key ? (daysOff ?? []) : [] },
        ...{ away: own.away, deputy: own.deputy, getsBack: own.getsBack, skills: own.skills ?? [] },
        ...clockOf(key, organisation, now),
        open: openOf(key),
        teams: members.filter((m) => m.person === key).map((m) => m.team),
      }),
    ),
    teams: teams
      .filter(({ key }) => sight.all || inTeam(key).length > 0)
      .map(({ key, name, parent, paused, hours }) => ({
        ...{ key, name, parent, paused, hours },
        leaders: inTeam(key)
          .filter((m) => m.leads)
          .map((m) => m.person),
        members: inTeam(key).map((m) => m.person),
        open: inTeam(key).reduce((sum, m) => sum + openOf(m.person), 0),
      })),
    queues: queues
      .filter(({ key }) => sight.all || sight.queues.includes(key))
      .map(({ key, name, order, mostHeld }) => ({
        ...{ key, name, order, mostHeld },
        held: held.get(key) ?? 0,
        members: pickers.filter((m) => m.queue === key).map((m) => m.person),
        waiting: Number(waiting.find((w) => w.queue === key)?.count ?? 0),
      })),
    skills: [...(organisation.skills?.values() ?? [])],
  };
}

/** Whether someone works now, else when again. */
function clockOf(key: string, organisation: Organisation, now: Date): Pick<PersonRow, 'zone' | 'worksNow' | 'backAt'> {
  const rep = organisation.reps.get(key as RepKey);
  if (rep === undefined) return { zone: null, worksNow: false, backAt: null };
  const calendar = calendarOf(rep, organisation);
  const worksNow = calendar.isWorking(now.getTime());
  return {
    zone: hoursOf(rep, organisation)?.timeZone ?? null,
    worksNow,
    backAt: worksNow ? null : calendar.nextStart(now.getTime()),
  };
}

export function peopleEndpoints(source: DataSource, counts: WatershedCounts): Endpoint[] {
  const { manager } = source;
  /** Every change is answered with the people as they are then. */
  const peopleFor = async (caller: User, now: Date): Promise<People> =>
    peopleInSight(manager, await sightOf(manager, caller), caller, now);
  return [
    endpoint({
      method: 'get',
      path: '/api/people',
      who: EVERYONE,
      answer: json<People>(),
      call: ({ caller, now }) => peopleFor(caller, now),
    }),
    endpoint({
      method: 'patch',
      path: '/api/people/:key',
      who: ADMIN,
      params: byKey,
      body: changeRepSchema,
      answer: json<People>(),
      async call({ caller, params, body, now }) {
        await changeRep(source, params.key, body, now);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/presence',
      who: EVERYONE,
      body: changePresenceSchema,
      answer: json<People>(),
      async call({ caller, body, now }) {
        await changePresence(source, caller.key, body, now);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/teams/:key',
      who: ADMIN,
      params: byKey,
      body: changeTeamSchema,
      answer: json<People>(),
      async call({ caller, params, body, now }) {
        await changeTeam(source, params.key, body, now);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/people',
      who: ADMIN,
      body: makePersonSchema,
      answer: json<People>(201),
      async call({ caller, body, now }) {
        await makePerson(source, body);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/people/:key/retire',
      who: ADMIN,
      patience: 60_000,
      params: byKey,
      body: retirePersonSchema,
      answer: json<Retired>(),
      async call({ caller, params, body, now }) {
        const given = await retirePerson(source, params.key, body, { user: caller, at: now });
        return { given, people: await peopleFor(caller, now) };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/teams',
      who: ADMIN,
      body: makeTeamSchema,
      answer: json<People>(201),
      async call({ caller, body, now }) {
        await makeTeam(source, body.name);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/teams/:key',
      who: ADMIN,
      params: byKey,
      answer: json<People>(),
      async call({ caller, params, now }) {
        await removeTeam(source, params.key);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'put',
      path: '/api/skills/:key',
      who: ADMIN,
      params: byKey,
      body: changeSkillsSchema,
      answer: json<People>(),
      async call({ caller, params, body, now }) {
        await changeSkills(source, params.key, body);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/skills/:key',
      who: ADMIN,
      params: byKey,
      answer: json<People>(),
      async call({ caller, params, now }) {
        await removeSkills(source, params.key);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'put',
      path: '/api/queues/:key',
      who: ADMIN,
      params: byKey,
      body: changeQueueSchema,
      answer: json<People>(),
      async call({ caller, params, body, now }) {
        await changeQueue(source, params.key, body);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/queues/:key',
      who: ADMIN,
      params: byKey,
      answer: json<People>(),
      async call({ caller, params, now }) {
        await removeQueue(source, params.key);
        return peopleFor(caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/holiday-places',
      who: ADMIN,
      query: object({ country: string().max(8) }).exact(),
      answer: json<readonly HolidayPlace[]>(),
      call: ({ query }) => holidayPlaces(query.country ?? null),
    }),
    endpoint({
      method: 'get',
      path: '/api/fairness',
      who: ['admin', 'manager'],
      query: fairnessQuerySchema,
      answer: json<Fairness>(),
      call: async ({ caller, query, now }) => fairnessOf(manager, query, await sightOf(manager, caller), now),
    }),
    endpoint({
      method: 'get',
      path: '/api/week',
      who: ['admin', 'manager'],
      query: weekQuerySchema,
      answer: json<TeamWeek>(),
      call: async ({ caller, query, now }) => weekOf(manager, query, await sightOf(manager, caller), now),
    }),
    endpoint({
      method: 'get',
      path: '/api/home',
      who: EVERYONE,
      answer: json<Home>(),
      call: async ({ caller, now }) => counts.home(await sightOf(manager, caller), caller, now),
    }),
  ];
}
