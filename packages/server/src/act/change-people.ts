import type { ChangePresence, ChangeRep, ChangeSkills, ChangeTeam } from '@relvik/contracts';
import {
  type DaysOff,
  fold,
  list,
  type Problem,
  type Read,
  readDaysOff,
  type RepSkill,
  readWorkHours,
  Spot,
  withTeamsInside,
  type WorkHours,
} from '@relvik/core';
import { type DataSource, type EntityManager, IsNull } from 'typeorm';
import { Refused } from '../problem/refused';
import { CharterEntity } from '../store/entity/charter.entity';
import { PersonEntity, SkillListEntity, TeamEntity, TeamMemberEntity } from '../store/entity/people.entity';
import { readOrganisation } from '../store/organisation';
import { isHolidayPlace } from '../store/public-holidays';
import { checkKey } from './change-queues';
import { freeBay } from './free-bay';
import { standIn } from './stand-in';

const readAllDaysOff = list(readDaysOff, { most: 1000 });

/** Reads a part of a body with a reader of core, and collects its problems. */
function readPart<T>(read: Read<T>, json: unknown, part: string, problems: Problem[]): T {
  return read(json, Spot.root(problems).at(part));
}

function hoursIn(json: unknown, problems: Problem[]): WorkHours | null {
  return json === null ? null : readPart(readWorkHours, json, 'hours', problems);
}

function refuseIf(problems: readonly Problem[]): void {
  if (problems.length > 0) throw Refused.invalid(problems);
}

/** Changes a rep’s limit, weight, hours, days off and skills. Leads that wait for them may then leave the bay. */
export async function changeRep(source: DataSource, key: string, change: Unread<ChangeRep>, now: Date): Promise<void> {
  const { mayTakeLeads, limit, whyNot, weight, holidaysOf, away, deputy, getsBack } = change;
  const problems: Problem[] = [];
  const changed: Partial<PersonEntity> = { mayTakeLeads, takes: limit, whyNot: mayTakeLeads ? null : whyNot };
  if (weight !== undefined) changed.weight = Math.round(weight * 100);
  if (change.hours !== undefined) changed.hours = hoursIn(change.hours, problems);
  if (change.daysOff !== undefined)
    changed.daysOff = inOrder(readPart(readAllDaysOff, change.daysOff, 'daysOff', problems));
  if (away !== undefined) changed.away = away;
  if (getsBack !== undefined) changed.getsBack = getsBack;
  if (deputy !== undefined) changed.deputy = await deputyIn(source.manager, key, deputy, problems);
  if (change.skills !== undefined) changed.skills = await skillsIn(source.manager, change.skills, problems);
  if (holidaysOf !== undefined) changed.holidaysOf = holidaysOf;
  if (holidaysOf !== undefined && holidaysOf !== null && !isHolidayPlace(holidaysOf))
    problems.push({ path: '/holidaysOf', message: `no public holidays are known of ${holidaysOf}` });
  refuseIf(problems);
  const { affected } = await source.manager.update(PersonEntity, { key, retired: false }, changed);
  if (affected === 0) throw Refused.notFound();
  await follow(source, now);
}

/** Open leads follow people at once; what fails here the background works do later. */
async function follow(source: DataSource, now: Date): Promise<void> {
  await standIn(source, now).catch(() => undefined);
  await freeBay(source, now);
}

/** A deputy takes leads, and is someone else. */
async function deputyIn(
  manager: EntityManager,
  key: string,
  deputy: string | null,
  problems: Problem[],
): Promise<string | null> {
  if (deputy === null) return null;
  const say = (message: string): void => void problems.push({ path: '/deputy', message });
  const found = await manager.findOneBy(PersonEntity, { key: deputy, retired: false });
  if (deputy === key) say('is the same person');
  else if (found === null) say('is nobody here');
  else if (!found.mayTakeLeads) say(`takes no leads: ${found.name}`);
  return deputy;
}

/** Changes whether someone is here, and their days off. */
export async function changePresence(
  source: DataSource,
  key: string,
  { away, daysOff: said }: Unread<ChangePresence>,
  now: Date,
): Promise<void> {
  const problems: Problem[] = [];
  const daysOff = readPart(readAllDaysOff, said, 'daysOff', problems);
  refuseIf(problems);
  await source.manager.update(PersonEntity, { key }, { away, daysOff: inOrder(daysOff) });
  await follow(source, now);
}

/** A body whose parts core reads. */
type Unread<T> = { readonly [K in keyof T]: K extends 'hours' | 'daysOff' | 'skills' ? unknown : T[K] };

function inOrder(daysOff: readonly DaysOff[]): DaysOff[] {
  return daysOff.toSorted((a, b) => (a.from < b.from ? -1 : 1));
}

async function skillsIn(manager: EntityManager, json: unknown, problems: Problem[]): Promise<RepSkill[]> {
  const lists = new Map((await manager.find(SkillListEntity)).map((one) => [one.key, one]));
  const spot = Spot.root(problems).at('skills');
  if (!Array.isArray(json)) {
    spot.say('must be a list');
    return [];
  }
  return json.flatMap((one: unknown, i): RepSkill[] => {
    const { skill, has } = (typeof one === 'object' && one !== null ? one : {}) as Partial<Record<string, unknown>>;
    const known = typeof skill === 'string' ? lists.get(skill) : undefined;
    if (known === undefined) {
      spot.at(i).at('skill').say('is no list of skills');
      return [];
    }
    if (!Array.isArray(has)) {
      spot.at(i).at('has').say('must be a list');
      return [];
    }
    const words = new Map(known.words.map((word) => [fold(word), word]));
    const found = has.map((word: unknown, j) => {
      const same = typeof word === 'string' ? words.get(fold(word)) : undefined;
      if (same === undefined) spot.at(i).at('has').at(j).say(`is not among ${known.name}`);
      return same ?? '';
    });
    return found.length === 0 ? [] : [{ skill: known.key, has: [...new Set(found)] }];
  });
}

/** Changes a team: its members in the order of turns, where it lies, its hours, whether it is paused. Who leads it stays, as long as they are in it and nothing else is said. */
export async function changeTeam(
  source: DataSource,
  key: string,
  change: Unread<ChangeTeam>,
  now: Date,
): Promise<void> {
  const { members, parent, paused, name, leaders } = change;
  const problems: Problem[] = [];
  const hours = hoursIn(change.hours, problems);
  refuseIf(problems);
  await source.transaction(async (manager) => {
    const { reps, teams } = await readOrganisation(manager);
    const team = [...teams.values()].find((one) => one.key === key);
    if (team === undefined) throw Refused.notFound();
    members.forEach((member, i) => {
      const at = `/members/${i}`;
      if (![...reps.keys()].some((rep) => rep === member)) problems.push({ path: at, message: 'is nobody here' });
      // In turns over [a, b, a, c] it would never be c's.
      if (members.indexOf(member) < i) problems.push({ path: at, message: 'stands twice' });
    });
    leaders?.forEach((leader, i) => {
      if (!members.includes(leader)) problems.push({ path: `/leaders/${i}`, message: 'is not among the members' });
    });
    if (parent !== null && ![...teams.keys()].some((one) => one === parent))
      problems.push({ path: '/parent', message: 'is no team' });
    if (withTeamsInside(team, teams).some((one) => one.key === parent))
      problems.push({ path: '/parent', message: 'lies inside this team itself' });
    refuseIf(problems);
    await manager.update(TeamEntity, { key }, { parent, paused, hours, ...(name === undefined ? {} : { name }) });
    const led = new Set(
      leaders ?? (await manager.findBy(TeamMemberEntity, { team: key, leads: true })).map((m) => m.person),
    );
    await manager.delete(TeamMemberEntity, { team: key });
    if (members.length > 0)
      await manager.insert(
        TeamMemberEntity,
        members.map((person, joined) => ({ team: key, person, joined, leads: led.has(person) })),
      );
  });
  await freeBay(source, now);
}

/** Makes a list of skills, or changes it; a word that is taken out is taken from everyone who had it. */
export async function changeSkills(source: DataSource, key: string, { name, words }: ChangeSkills): Promise<void> {
  checkKey(key);
  const folded = words.map(fold);
  words.forEach((word, i) => {
    if (folded.indexOf(folded[i] ?? '') < i)
      throw Refused.invalid([{ path: `/words/${i}`, message: `stands twice: ${word}` }]);
  });
  await source.transaction(async (manager) => {
    await manager.save(SkillListEntity, { key, name, words: [...words] });
    await keepSkills(manager, key, (word) => folded.includes(fold(word)));
  });
}

/** Takes a list of skills out, and its words from everyone. A list that the charter in force or a draft asks for stays. */
export async function removeSkills(source: DataSource, key: string): Promise<void> {
  await source.transaction(async (manager) => {
    // Drafts have no number yet.
    for (const { body, name } of await manager.find(CharterEntity, {
      where: [{ inForce: true }, { number: IsNull() }],
    })) {
      const route = body.streams
        .flatMap(({ routes }) => routes)
        .find(({ skills = [] }) => skills.some(({ skill }) => skill === key));
      if (route !== undefined)
        throw Refused.invalid([{ path: '/key', message: `is asked for by route ${route.name} of ${name}` }]);
    }
    const { affected } = await manager.delete(SkillListEntity, { key });
    if (affected === 0) throw Refused.notFound();
    await keepSkills(manager, key, () => false);
  });
}

async function keepSkills(manager: EntityManager, list: string, keeps: (word: string) => boolean): Promise<void> {
  for (const { key, skills } of await manager.find(PersonEntity)) {
    if (skills?.some(({ skill }) => skill === list) !== true) continue;
    const kept = skills.flatMap(({ skill, has }) => {
      const left = skill === list ? has.filter(keeps) : has;
      return left.length === 0 ? [] : [{ skill, has: left }];
    });
    await manager.update(PersonEntity, { key }, { skills: kept });
  }
}
