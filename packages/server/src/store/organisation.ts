import type { Organisation, QueueKey, RepKey, TeamKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { PersonEntity, QueueEntity, QueueMemberEntity, TeamEntity, TeamMemberEntity } from './entity/people.entity';

/** Reps, teams and queues as decisions find them. Who is retired is not here any more. */
export async function readOrganisation(manager: EntityManager): Promise<Organisation> {
  const [people, teams, members, queues, pickers] = await Promise.all([
    manager.find(PersonEntity, { where: { retired: false } }),
    manager.find(TeamEntity),
    manager.find(TeamMemberEntity, { order: { joined: 'ASC', person: 'ASC' } }),
    manager.find(QueueEntity),
    manager.find(QueueMemberEntity),
  ]);
  const here = new Set(people.map((person) => person.key));
  return {
    reps: new Map(
      people.map(({ key, name, mayTakeLeads, takes }) => [
        key as RepKey,
        { key: key as RepKey, name, mayTakeLeads, limit: takes },
      ]),
    ),
    teams: new Map(
      teams.map(({ key, name }) => {
        const own = members.filter((m) => m.team === key && here.has(m.person)).map((m) => m.person as RepKey);
        return [key as TeamKey, { key: key as TeamKey, name, members: own }];
      }),
    ),
    queues: new Map(
      queues.map(({ key, name }) => {
        const own = pickers.filter((m) => m.queue === key && here.has(m.person)).map((m) => m.person as RepKey);
        return [key as QueueKey, { key: key as QueueKey, name, members: own }];
      }),
    ),
  };
}
