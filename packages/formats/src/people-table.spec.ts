import type { SkillList } from '@relvik/core';
import fc from 'fast-check';
import { readCsv, type Table, writeCsv } from './csv';
import { peopleFromTable, type PersonLine, peopleTable } from './people-table';

const LISTS: readonly SkillList[] = [
  { key: 'languages', name: 'Languages', words: ['Norsk', 'Français', 'English (UK)'] },
  { key: 'trades', name: 'Trades', words: ['Brewery', 'Fish farm'] },
];

const day = fc
  .date({ min: new Date('2026-01-01'), max: new Date('2030-12-31'), noInvalidDate: true })
  .map((date) => date.toISOString().slice(0, 10) as never);
const MORNING = { from: '08:00', to: '12:00' };
const EVENING = { from: '13:00', to: '24:00' };
const span = fc.constantFrom(MORNING, EVENING);
const text = fc.stringMatching(/^[A-Za-zæøå][A-Za-zæøå ,"']{0,12}[a-z]$/);
const person: fc.Arbitrary<PersonLine> = fc.record({
  email: fc.nat(1e6).map((n) => `p${n}@people.example`),
  name: text,
  role: fc.constantFrom('rep', 'manager', 'admin'),
  teams: fc.uniqueArray(text, { maxLength: 3 }),
  mayTakeLeads: fc.boolean(),
  whyNot: fc.option(text),
  limit: fc.option(fc.nat(200)),
  weight: fc.constantFrom(1, 0.5, 12.25),
  hours: fc.option(
    fc.record({
      timeZone: fc.constantFrom('Europe/Oslo', 'America/New_York', 'UTC'),
      weekly: fc.option(
        fc
          .dictionary(
            fc.constantFrom('1', '2', '3', '4', '5', '6', '7'),
            fc.subarray([MORNING, EVENING], { minLength: 1 }),
          )
          .map((days) =>
            Object.entries(days).flatMap(([on, spans]) => spans.map((one) => ({ day: Number(on), ...one }))),
          ),
      ),
    }),
  ),
  holidaysOf: fc.option(fc.constantFrom('NO', 'DE-BY')),
  daysOff: fc.array(
    fc.tuple(day, day, fc.option(span)).map(([a, b, hours]) => ({ from: a < b ? a : b, to: a < b ? b : a, hours })),
    { maxLength: 3 },
  ),
  away: fc.boolean(),
  deputy: fc.option(fc.constant('deputy@people.example')),
  getsBack: fc.boolean(),
  skills: fc
    .tuple(fc.subarray([...(LISTS[0]?.words ?? [])]), fc.subarray([...(LISTS[1]?.words ?? [])]))
    .map((all) => all.flatMap((has, i) => (has.length === 0 ? [] : [{ skill: LISTS[i]?.key ?? '', has }]))),
});

test('people who are written into a file are read back the same', () => {
  fc.assert(
    fc.property(fc.uniqueArray(person, { maxLength: 5, selector: ({ email }) => email }), (people) => {
      const reading = readCsv(writeCsv(peopleTable(people, LISTS)));
      const { table } = reading as { table: Table };
      expect(peopleFromTable(table, LISTS)).toEqual({ ok: true, people });
    }),
  );
});

test('a file with few columns says little; an empty cell says none', () => {
  const table = { header: ['Name', 'E-MAIL', 'limit'], rows: [['Ada', 'Ada@People.example', '']] };
  expect(peopleFromTable(table, LISTS)).toEqual({
    ok: true,
    people: [{ email: 'ada@people.example', name: 'Ada', limit: null }],
  });
});

test('everything that is wrong is named by row and column', () => {
  const header = ['e-mail', 'name', 'takes leads', 'limit', 'weight', 'time zone', 'hours', 'days off', 'Trades'];
  const rows = [
    ['nobody', '', 'perhaps', '-1', '0', 'Mars/Olympus', 'Mon 9', '2026-02-30', 'Golf'],
    [
      'a@b.example',
      'A',
      '',
      '',
      '',
      '',
      'Mon 9-17',
      '2026-12-24..2026-12-20; 2026-12-24 12-9; 2026-12-24 9-12',
      'brewery',
    ],
    ['A@b.example', 'A', 'no', '3', '1', '', '', '', ''],
  ];
  const reading = peopleFromTable({ header, rows }, LISTS);
  expect(reading.ok ? [] : reading.problems.map(({ row, message }) => `${row} ${message}`)).toEqual([
    '1 e-mail: is none: nobody',
    '1 name: is missing',
    '1 takes leads: must be yes or no: perhaps',
    '1 limit: must be a number from 0: -1',
    '1 weight: must be a number from 0.01: 0',
    '1 hours: can’t be read: Mon 9; they are written Mon-Fri 08:00-16:00',
    '1 hours: is no time zone: Mars/Olympus',
    '1 days off: is not a day written YYYY-MM-DD: 2026-02-30',
    '1 days off: is not a day written YYYY-MM-DD: 2026-02-30',
    '1 Trades: is not among them: Golf',
    '2 time zone: is needed where there are hours',
    '2 days off: must not be before 2026-12-24: 2026-12-24..2026-12-20',
    '2 days off: can’t be read: 2026-12-24 12-9; part of a day is written 2026-12-24 09:00-12:00',
    '3 e-mail: stands twice: a@b.example',
  ]);
  const wrong = peopleFromTable({ header: ['name', 'name', 'shoe size'], rows: [] }, LISTS);
  expect(wrong.ok ? [] : wrong.problems.map(({ message }) => message)).toEqual([
    'The column name stands twice',
    'No column is called “shoe size”',
    'The column e-mail is missing',
  ]);
});
