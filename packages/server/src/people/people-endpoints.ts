import { type ChangeRep, changeRepSchema, type People } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { type Endpoint, read, userOf } from '../api/endpoint';
import { Refused } from '../api/refused';
import { freeBay } from '../decide/free-bay';
import { homeOf } from '../home/counts';
import { LeadEntity } from '../record/lead.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  TeamEntity,
  TeamMemberEntity,
} from './people.entity';
import { type Sight, sightOf } from './sight';

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

export function peopleEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    {
      method: 'get',
      path: '/api/people',
      who: ['admin', 'manager', 'rep'],
      handle: async (asked) => ({ body: await peopleInSight(manager, await sightOf(manager, userOf(asked))) }),
    },
    {
      method: 'patch',
      path: '/api/people/:key',
      who: ['admin'],
      async handle(asked) {
        const { mayTakeLeads, limit, whyNot } = await read<ChangeRep>(changeRepSchema, asked.body);
        const { affected } = await manager.update(
          PersonEntity,
          { key: asked.params['key'] ?? '', retired: false },
          { mayTakeLeads, takes: limit, whyNot: mayTakeLeads ? null : whyNot },
        );
        if (affected === 0) throw Refused.notFound();
        // Someone may be free now.
        await freeBay(source, asked.now);
        return { body: await peopleInSight(manager, await sightOf(manager, userOf(asked))) };
      },
    },
    {
      method: 'get',
      path: '/api/home',
      who: ['admin', 'manager', 'rep'],
      handle: async (asked) => ({ body: await homeOf(manager, await sightOf(manager, userOf(asked)), userOf(asked)) }),
    },
  ];
}
