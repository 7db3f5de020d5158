import type { People, PersonRow } from '@relvik/contracts';
import { peopleFromTable, peopleTable } from '@relvik/formats';
import { PEOPLE } from '../page.fixture';
import { changeOf, personLines, planOf } from './people-changes';

const [ada, cai] = PEOPLE.people as [PersonRow, PersonRow];
const people: People = {
  ...PEOPLE,
  people: [
    { ...ada, email: 'ada@people.example', skills: [{ skill: 'trades', has: ['Brewery'] }] },
    { ...cai, email: 'cai@people.example' },
  ],
  skills: [{ key: 'trades', name: 'Trades', words: ['Brewery', 'Fish farm'] }],
};
const team = people.teams.find(({ members }) => members.includes('ada'));

test('a file of all people as they are changes nothing', () => {
  const reading = peopleFromTable(peopleTable(personLines(people), people.skills), people.skills);
  expect(planOf(people, reading.ok ? reading.people : [])).toEqual({
    ...{ ok: true, made: [], changed: [], teams: [], same: 2 },
  });
});

test('who is new is made, who differs is changed in what differs, and teams get their members at the end', () => {
  const plan = planOf(people, [
    { email: 'nova@people.example', name: 'Nova Lund', teams: [team?.name ?? ''], limit: 5 },
    { email: 'ada@people.example', limit: 12, deputy: 'nova@people.example', teams: [] },
    { email: 'cai@people.example', whyNot: 'has no seat' },
  ]);
  expect(plan).toMatchObject({
    made: [{ make: { name: 'Nova Lund', role: 'rep', team: null } }],
    changed: [{ key: 'ada', columns: ['limit', 'deputy'] }],
    teams: [{ key: team?.key, emails: expect.arrayContaining(['nova@people.example']) as string[] }],
    same: 1,
  });
  expect(plan.ok ? plan.teams[0]?.emails.at(-1) : '').toBe('nova@people.example');
  expect(plan.ok ? plan.teams[0]?.emails : []).not.toContain('ada@people.example');
  const known = new Map(people.people.map((one) => [one.email ?? '', one]));
  expect(changeOf(people.people[0] as PersonRow, { email: 'ada@people.example', limit: 12 }, known)).toEqual({
    ...{ mayTakeLeads: true, limit: 12, whyNot: null },
  });
});

test('what can’t be done is said before anything is', () => {
  const plan = planOf(people, [
    { email: 'ada@people.example', name: 'Ada Else', role: 'admin', teams: ['Moon'], deputy: 'ghost@people.example' },
    { email: 'new@people.example', role: 'pilot' },
  ]);
  expect(plan.ok ? [] : plan.problems).toEqual([
    'ada@people.example: teams: there is no team Moon',
    'ada@people.example: deputy: there is nobody with ghost@people.example',
    'ada@people.example: name: is Ada Lindqvist here',
    'ada@people.example: role: is rep here',
    'new@people.example: name: is needed for someone new',
    'new@people.example: role: must be rep, manager or admin: pilot',
  ]);
});
