import { changeRepSchema, type Home, type People } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byKey } from '../http/read';
import { Refused } from '../problem/refused';
import { freeBay } from '../act/free-bay';
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
import { type Sight, sightOf } from '../session/sight';

/** People, teams and queues as far as a user sees them. */
async function peopleInSight(manager: EntityManager, sight: Sight): Promise<People> {
  const [people, loads, teams, members, queues, pickers, waiting] = await Promise.all([
    manager.find(PersonEntity, { where: { retired: false }, order: { name: 'ASC' } }),
    manager.find(RepLoadEntity),
    manager.find(TeamEntity, { order: { name: 'ASC' } }),
    manager.find(TeamMemberEntity, { order: { joined: 'ASC' } }),
    manager.find(QueueEntity, { order: { name: 'ASC' } }),
    manager.find(QueueMemberEntity),
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
    people: seen.map(({ key, name, role, mayTakeLeads, whyNot, takes }) => ({
      key,
      name,
      role,
      mayTakeLeads,
      whyNot,
      limit: takes,
      open: openOf(key),
      teams: members.filter((m) => m.person === key).map((m) => m.team),
    })),
    teams: teams
      .filter(({ key }) => sight.all || inTeam(key).length > 0)
      .map(({ key, name }) => ({
        key,
        name,
        leaders: inTeam(key)
          .filter((m) => m.leads)
          .map((m) => m.person),
        members: inTeam(key).map((m) => m.person),
        open: inTeam(key).reduce((sum, m) => sum + openOf(m.person), 0),
      })),
    queues: queues
      .filter(({ key }) => sight.all || sight.queues.includes(key))
      .map(({ key, name }) => ({
        key,
        name,
        members: pickers.filter((m) => m.queue === key).map((m) => m.person),
        waiting: Number(waiting.find((w) => w.queue === key)?.count ?? 0),
      })),
  };
}

export function peopleEndpoints(source: DataSource, counts: WatershedCounts): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/people',
      who: EVERYONE,
      answer: json<People>(),
      call: async ({ caller }) => peopleInSight(manager, await sightOf(manager, caller)),
    }),
    endpoint({
      method: 'patch',
      path: '/api/people/:key',
      who: ADMIN,
      params: byKey,
      body: changeRepSchema,
      answer: json<People>(),
      async call({ caller, params, body: { mayTakeLeads, limit, whyNot }, now }) {
        const { affected } = await manager.update(
          PersonEntity,
          { key: params.key, retired: false },
          { mayTakeLeads, takes: limit, whyNot: mayTakeLeads ? null : whyNot },
        );
        if (affected === 0) throw Refused.notFound();
        // Someone may be free now.
        await freeBay(source, now);
        return peopleInSight(manager, await sightOf(manager, caller));
      },
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
