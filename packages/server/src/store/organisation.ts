import type { Day, Organisation, QueueKey, Rep, RepKey, TeamKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  SkillListEntity,
  TeamEntity,
  TeamMemberEntity,
} from './entity/people.entity';
import { publicHolidays } from './public-holidays';

/** Names of retired people, for what they owned and did. */
export async function retiredPeople(manager: EntityManager): Promise<{ key: string; name: string }[]> {
  const people = await manager.find(PersonEntity, { select: { key: true, name: true }, where: { retired: true } });
  return people.map(({ key, name }) => ({ key, name: `${name} (retired)` }));
}

/** Reps, teams, queues and skills as decisions find them. Who is retired is not here any more. */
export async function readOrganisation(manager: EntityManager): Promise<Organisation> {
  const [people, teams, members, queues, pickers, skills] = await Promise.all([
    manager.find(PersonEntity, { where: { retired: false } }),
    manager.find(TeamEntity),
    manager.find(TeamMemberEntity, { order: { joined: 'ASC', person: 'ASC' } }),
    manager.find(QueueEntity),
    manager.find(QueueMemberEntity),
    manager.find(SkillListEntity, { order: { key: 'ASC' } }),
  ]);
  const here = new Set(people.map((person) => person.key));
  return {
    reps: new Map(people.map((person) => [person.key as RepKey, repOf(person)])),
    teams: new Map(
      teams.map(({ key, name, parent, paused, hours }) => {
        const own = members.filter((m) => m.team === key && here.has(m.person)).map((m) => m.person as RepKey);
        return [
          key as TeamKey,
          { ...{ key: key as TeamKey, name, members: own }, parent: parent as TeamKey | null, paused, hours },
        ];
      }),
    ),
    queues: new Map(
      queues.map(({ key, name }) => {
        const own = pickers.filter((m) => m.queue === key && here.has(m.person)).map((m) => m.person as RepKey);
        return [key as QueueKey, { key: key as QueueKey, name, members: own }];
      }),
    ),
    skills: new Map(skills.map(({ key, name, words }) => [key, { key, name, words }])),
    holidays: holidaysOf(people),
  };
}

function repOf(person: PersonEntity): Rep {
  const { key, name, mayTakeLeads, takes, weight, hours, holidaysOf: place, daysOff, away, skills } = person;
  return {
    ...{ key: key as RepKey, name, mayTakeLeads, limit: takes, weight: weight / 100 },
    ...{ hours, holidaysOf: place, daysOff: daysOff ?? [], away, skills: skills ?? [] },
  };
}

function holidaysOf(people: readonly PersonEntity[]): ReadonlyMap<string, readonly Day[]> {
  const places = new Set(people.flatMap(({ holidaysOf: place }) => place ?? []));
  const year = new Date().getUTCFullYear();
  return new Map([...places].sort().map((place) => [place, publicHolidays(place, year)]));
}
