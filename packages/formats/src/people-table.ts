import {
  type DaysOff,
  fold,
  type Problem,
  readDaysOff,
  readSpans,
  readWeekWords,
  readWorkHours,
  type RepSkill,
  type SkillList,
  Spot,
  weekWords,
  type WorkHours,
} from '@relvik/core';
import type { CsvProblem, Table } from './csv';

/** Someone as a row of a file. */
export interface PersonLine {
  readonly email: string;
  readonly name: string;
  readonly role: string;
  /** Names of teams. */
  readonly teams: readonly string[];
  readonly mayTakeLeads: boolean;
  readonly whyNot: string | null;
  readonly limit: number | null;
  readonly weight: number;
  readonly hours: WorkHours | null;
  readonly holidaysOf: string | null;
  readonly daysOff: readonly DaysOff[];
  readonly away: boolean;
  /** An e-mail. */
  readonly deputy: string | null;
  readonly getsBack: boolean;
  readonly skills: readonly RepSkill[];
}

/** Columns beside those of the lists of skills, which are called as the lists are. */
const COLUMNS = [
  ...['e-mail', 'name', 'role', 'teams', 'takes leads', 'why not', 'limit', 'weight', 'time zone', 'hours'],
  ...['holidays of', 'days off', 'away', 'deputy', 'gets back'],
] as const;

/** People as a table, one row each. Hours are written in words, `Mon–Fri 08:00-16:00`; several values with semicolons between them. */
export function peopleTable(people: readonly PersonLine[], lists: readonly SkillList[]): Table {
  return {
    header: [...COLUMNS, ...lists.map(({ name }) => name)],
    rows: people.map((one) => [
      ...[one.email, one.name, one.role, one.teams.join('; '), yesNo(one.mayTakeLeads), one.whyNot ?? ''],
      ...[one.limit === null ? '' : String(one.limit), String(one.weight)],
      ...(one.hours === null ? ['', ''] : [one.hours.timeZone, weekWords(one.hours.weekly)]),
      ...[one.holidaysOf ?? '', one.daysOff.map(daysText).join('; '), yesNo(one.away), one.deputy ?? ''],
      yesNo(one.getsBack),
      ...lists.map(({ key }) => (one.skills.find(({ skill }) => skill === key)?.has ?? []).join('; ')),
    ]),
  };
}

function yesNo(yes: boolean): string {
  return yes ? 'yes' : 'no';
}

function daysText({ from, to, hours }: DaysOff): string {
  return `${from}${to === from ? '' : `..${to}`}${hours === null ? '' : ` ${hours.from}-${hours.to}`}`;
}

/** What a row says of someone: the columns that the file has. */
export type PersonSaid = Partial<PersonLine> & Pick<PersonLine, 'email'>;

export type PeopleReading =
  | { readonly ok: true; readonly people: readonly PersonSaid[] }
  | { readonly ok: false; readonly problems: readonly CsvProblem[] };

/**
 * Reads people from a table as {@link peopleTable} writes it. Only the e-mail has to be there; a column that is missing says nothing,
 * an empty cell says none.
 *
 * @returns everything that is wrong, by row; whether teams and people exist is left to the reader
 */
export function peopleFromTable({ header, rows }: Table, lists: readonly SkillList[]): PeopleReading {
  const problems: CsvProblem[] = [];
  const known = new Map([...COLUMNS, ...lists.map(({ name }) => name)].map((name) => [fold(name), name]));
  const columns = header.map((name) => known.get(fold(name)) ?? null);
  columns.forEach((column, c) => {
    if (column === null) problems.push({ row: 0, message: `No column is called “${header[c] ?? ''}”` });
    else if (columns.indexOf(column) < c) problems.push({ row: 0, message: `The column ${column} stands twice` });
  });
  if (!columns.includes('e-mail')) problems.push({ row: 0, message: 'The column e-mail is missing' });
  if (problems.length > 0) return { ok: false, problems };
  const emails = new Set<string>();
  const people = rows.map((cells, i): PersonSaid => {
    const row = new RowOfPerson(columns, cells, (message) => problems.push({ row: i + 1, message }));
    const said = row.person(lists);
    if (emails.has(said.email)) row.say('e-mail', `stands twice: ${said.email}`);
    emails.add(said.email);
    return said;
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, people };
}

/** One row, read column by column. */
class RowOfPerson {
  constructor(
    private readonly columns: readonly (string | null)[],
    private readonly cells: readonly string[],
    private readonly problem: (message: string) => void,
  ) {}

  say(column: string, message: string): void {
    this.problem(`${column}: ${message}`);
  }

  person(lists: readonly SkillList[]): PersonSaid {
    const email = fold(this.cell('e-mail') ?? '');
    if (!/^[^@\s]+@[^@\s]+$/.test(email)) this.say('e-mail', email === '' ? 'is missing' : `is none: ${email}`);
    const named = lists.filter(({ name }) => this.columns.includes(name));
    return {
      email,
      ...this.part('name', (text) => ({ name: this.needed('name', text) })),
      ...this.part('role', (text) => ({ role: text === '' ? 'rep' : text.toLowerCase() })),
      ...this.part('teams', (text) => ({ teams: several(text) })),
      ...this.part('takes leads', (text) => ({ mayTakeLeads: this.yes('takes leads', text, true) })),
      ...this.part('why not', (text) => ({ whyNot: text || null })),
      ...this.part('limit', (text) => ({ limit: text === '' ? null : this.number('limit', text, 0) })),
      ...this.part('weight', (text) => ({ weight: text === '' ? 1 : this.number('weight', text, 0.01) })),
      ...this.part('hours', (text) => ({ hours: this.hours(text) })),
      ...this.part('holidays of', (text) => ({ holidaysOf: text || null })),
      ...this.part('days off', (text) => ({ daysOff: several(text).map((one) => this.daysOff(one)) })),
      ...this.part('away', (text) => ({ away: this.yes('away', text, false) })),
      ...this.part('deputy', (text) => ({ deputy: fold(text) || null })),
      ...this.part('gets back', (text) => ({ getsBack: this.yes('gets back', text, true) })),
      ...(named.length === 0 ? {} : { skills: named.flatMap((list) => this.skill(list)) }),
    };
  }

  /** The cell of a column; null: the file has no such column. */
  private cell(column: string): string | null {
    const c = this.columns.indexOf(column);
    return c < 0 ? null : (this.cells[c] ?? '').trim();
  }

  private part<T extends Partial<PersonLine>>(column: string, read: (text: string) => T): T | null {
    const text = this.cell(column);
    return text === null ? null : read(text);
  }

  private needed(column: string, text: string): string {
    if (text === '') this.say(column, 'is missing');
    return text;
  }

  private yes(column: string, text: string, empty: boolean): boolean {
    const word = text.toLowerCase();
    if (word === '') return empty;
    if (word !== 'yes' && word !== 'no') this.say(column, `must be yes or no: ${text}`);
    return word === 'yes';
  }

  private number(column: string, text: string, least: number): number {
    const number = Number(text);
    if (!Number.isFinite(number) || number < least) this.say(column, `must be a number from ${least}: ${text}`);
    return number;
  }

  /** Without a time zone they are those of the team. */
  private hours(text: string): WorkHours | null {
    const timeZone = this.cell('time zone') ?? '';
    if (timeZone === '' && text === '') return null;
    if (timeZone === '') {
      this.say('time zone', 'is needed where there are hours');
      return null;
    }
    const weekly = text === '' ? null : readWeekWords(text);
    if (weekly === undefined) this.say('hours', `can’t be read: ${text}; they are written Mon-Fri 08:00-16:00`);
    const problems: Problem[] = [];
    const hours = readWorkHours({ timeZone, weekly: weekly ?? null }, Spot.root(problems));
    for (const { message } of problems) this.say('hours', message);
    return hours;
  }

  private daysOff(text: string): DaysOff {
    const [days = '', part] = text.split(/\s+/);
    const [from = '', to = from] = days.split('..');
    const [hours = null, ...others] = (part === undefined ? [] : readSpans(part)) ?? [];
    if (others.length > 0 || (part !== undefined && hours === null))
      this.say('days off', `can’t be read: ${text}; part of a day is written 2026-12-24 09:00-12:00`);
    const problems: Problem[] = [];
    const read = readDaysOff({ from, to, hours }, Spot.root(problems));
    for (const { message } of problems) this.say('days off', `${message}: ${text}`);
    return read;
  }

  private skill({ key, name, words }: SkillList): RepSkill[] {
    const byWord = new Map(words.map((word) => [fold(word), word]));
    const has = several(this.cell(name) ?? '').flatMap((word) => {
      const known = byWord.get(fold(word));
      if (known === undefined) this.say(name, `is not among them: ${word}`);
      return known ?? [];
    });
    return has.length === 0 ? [] : [{ skill: key, has }];
  }
}

function several(text: string): string[] {
  return text
    .split(';')
    .map((one) => one.trim())
    .filter((one) => one !== '');
}
