import { OWN_REGIONS } from './regions';
import { bindCharter, readCharter, readWorld } from '@relvik/core';
import { ostervane } from './ostervane';

const TODAY = Date.parse('2026-11-24T08:00:00Z');
const world = ostervane('ostervane', TODAY);

test('the same seed and day give the same world, another seed another', () => {
  expect(ostervane('ostervane', TODAY)).toEqual(world);
  expect(ostervane('other', TODAY).leads).not.toEqual(world.leads);
});

test('the charter in force and the draft are valid with its fields and people', () => {
  const reading = readWorld({
    format: 'relvik-world',
    version: 1,
    fields: world.fields.map((field) => (field.type === 'region' ? { ...field, ownRegions: OWN_REGIONS } : field)),
    reps: world.people.map(({ key, name, mayTakeLeads, limit }) => ({ key, name, mayTakeLeads, limit })),
    teams: world.teams.map(({ key, name, members }) => ({ key, name, members })),
    queues: world.queues.map(({ key, name }) => ({ key, name, members: [] })),
    skills: world.skills,
    rates: world.rates,
  });
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  for (const json of [world.charter, world.draft]) {
    const charter = readCharter(JSON.parse(JSON.stringify(json)));
    expect(charter).toMatchObject({ ok: true });
    if (charter.ok) expect(bindCharter(charter.charter, reading.world)).toMatchObject({ ok: true });
  }
});

test('it is as large and as mixed as the demo needs, with made-up domains only', () => {
  expect(world.leads).toHaveLength(2000);
  expect(world.people.filter((person) => person.role === 'rep')).toHaveLength(14);
  expect(new Set(world.leads.map((lead) => lead.values['deal_value']?.slice(-3))).size).toBeGreaterThan(5);
  for (const { values, at, activities } of world.leads) {
    expect(values['email']).toMatch(/\.example$/);
    expect(Math.max(at, ...activities.map((a) => a.at))).toBeLessThan(TODAY);
  }
  const outcomes = new Set(world.leads.map((lead) => lead.outcome));
  expect([...outcomes].sort()).toEqual(['disqualified', 'lost', 'won']);
});
