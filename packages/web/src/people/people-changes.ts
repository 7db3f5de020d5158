import type { ChangeRep, ChangeTeam, MakePerson, People, PersonRow, TeamRow } from '@relvik/contracts';
import { fold } from '@relvik/core';
import type { PersonLine, PersonSaid } from '@relvik/formats';

/** Someone who is made, and then changed. */
export interface Newcomer {
  readonly make: MakePerson;
  readonly email: string;
  readonly said: PersonSaid;
}

/** Someone who is changed, and in which columns. */
export interface Changed {
  readonly key: string;
  readonly name: string;
  readonly said: PersonSaid;
  readonly columns: readonly string[];
}

/** All that a file of people changes, or what is wrong with it. */
export type PeoplePlan =
  | {
      readonly ok: true;
      readonly made: readonly Newcomer[];
      readonly changed: readonly Changed[];
      /** Teams whose members change, with what the file says of those who are in them. */
      readonly teams: readonly { readonly key: string; readonly name: string; readonly emails: readonly string[] }[];
      /** How many people are as the file says already. */
      readonly same: number;
    }
  | { readonly ok: false; readonly problems: readonly string[] };

/** People as the rows of a file. */
export function personLines({ people, teams }: People): PersonLine[] {
  const emailOf = new Map(people.map(({ key, email }) => [key, email]));
  return people.map((one) => ({
    ...one,
    email: one.email ?? '',
    teams: one.teams.map((key) => teams.find((team) => team.key === key)?.name ?? key),
    deputy: one.deputy === null ? null : (emailOf.get(one.deputy) ?? null),
  }));
}

/** Holds what a file says of people against those who are known, by their e-mails. */
export function planOf(people: People, said: readonly PersonSaid[]): PeoplePlan {
  const problems: string[] = [];
  const known = new Map(people.people.map((one) => [fold(one.email ?? ''), one]));
  const here = (email: string): boolean => known.has(email) || said.some((one) => one.email === email);
  const made: Newcomer[] = [];
  const changed: Changed[] = [];
  let same = 0;
  for (const one of said) {
    const { email, deputy, teams = [] } = one;
    const say = (message: string): void => void problems.push(`${email}: ${message}`);
    for (const name of teams) if (teamNamed(people, name) === null) say(`teams: there is no team ${name}`);
    if (deputy != null && !here(deputy)) say(`deputy: there is nobody with ${deputy}`);
    const person = known.get(email);
    if (person === undefined) {
      const { name, role = 'rep' } = one;
      if (name === undefined) say('name: is needed for someone new');
      if (role !== 'rep' && role !== 'manager' && role !== 'admin') say(`role: must be rep, manager or admin: ${role}`);
      else made.push({ email, said: one, make: { name: name ?? '', email, role, team: null } });
      continue;
    }
    if (one.name !== undefined && one.name !== person.name) say(`name: is ${person.name} here`);
    if (one.role !== undefined && one.role !== person.role) say(`role: is ${person.role} here`);
    const columns = columnsChanged(person, one, known);
    if (columns.length > 0) changed.push({ key: person.key, name: person.name, columns, said: one });
    else same += 1;
  }
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, made, changed, teams: teamsChanged(people, said), same };
}

function teamNamed({ teams }: People, name: string): TeamRow | null {
  return teams.find((team) => fold(team.name) === fold(name) || team.key === name) ?? null;
}

type Known = ReadonlyMap<string, PersonRow>;

/** The change of someone, whose other values stay as they are; a deputy who is not known yet is left out. */
export function changeOf(person: PersonRow, said: PersonSaid, known: Known): ChangeRep {
  const { mayTakeLeads = person.mayTakeLeads, limit = person.limit, whyNot = person.whyNot } = said;
  const { weight, hours, holidaysOf, daysOff, away, getsBack, deputy } = said;
  const deputyKey = deputy == null ? deputy : known.get(deputy)?.key;
  const skills =
    said.skills === undefined
      ? undefined
      : [...person.skills.filter(({ skill }) => !said.skills?.some((one) => one.skill === skill)), ...said.skills];
  const more = { weight, hours, holidaysOf, daysOff, away, getsBack, deputy: deputyKey, skills };
  return {
    ...{ mayTakeLeads, limit, whyNot: mayTakeLeads ? null : whyNot },
    ...(Object.fromEntries(Object.entries(more).filter(([, value]) => value !== undefined)) as Partial<ChangeRep>),
  };
}

function columnsChanged(person: PersonRow, said: PersonSaid, known: Known): string[] {
  const change = changeOf(person, said, known);
  const names: Readonly<Partial<Record<keyof ChangeRep, string>>> = {
    ...{ mayTakeLeads: 'takes leads', whyNot: 'why not', limit: 'limit', weight: 'weight', hours: 'hours' },
    ...{ holidaysOf: 'holidays of', daysOff: 'days off', away: 'away', deputy: 'deputy', getsBack: 'gets back' },
    ...{ skills: 'skills' },
  };
  const fresh = said.deputy != null && !known.has(said.deputy) ? ['deputy'] : [];
  return (Object.entries(names) as [keyof ChangeRep, string][])
    .flatMap(([part, name]) => (change[part] !== undefined && !isSame(change[part], person[part]) ? [name] : []))
    .concat(fresh);
}

function isSame(a: unknown, b: unknown): boolean {
  return JSON.stringify(inOrder(a)) === JSON.stringify(inOrder(b));
}

/** Members of objects in one order, so that the same things are the same text. */
function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, part]) => [key, inOrder(part)]),
  );
}

/** Teams that someone joins or leaves by a file; who is not in the file stays. Newcomers come last. */
function teamsChanged(people: People, said: readonly PersonSaid[]) {
  const emails = new Map(people.people.map(({ key, email }) => [key, fold(email ?? '')]));
  return people.teams.flatMap((team) => {
    const before = team.members.map((key) => emails.get(key) ?? '');
    const isIn = (one: PersonSaid): boolean => (one.teams ?? []).some((name) => teamNamed(people, name) === team);
    const leaving = said.filter((one) => one.teams !== undefined && !isIn(one)).map(({ email }) => email);
    const joining = said.filter((one) => isIn(one) && !before.includes(one.email)).map(({ email }) => email);
    const after = [...before.filter((email) => !leaving.includes(email)), ...joining];
    return after.join() === before.join() ? [] : [{ key: team.key, name: team.name, emails: after }];
  });
}

/** A team with other members. */
export function withMembers({ paused, parent, hours }: TeamRow, members: readonly string[]): ChangeTeam {
  return { paused, parent, hours, members };
}
