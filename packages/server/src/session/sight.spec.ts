import type { Home, LeadPage, People } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { insertRows } from '../store/rows';
import { PersonEntity, TeamEntity, TeamMemberEntity } from '../store/entity/people.entity';
import { sightOf } from './sight';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  // Below the manager's team lies another, and below that a third.
  await insertRows(server.source.manager, TeamEntity, [
    { key: 'north-west', name: 'North west', parent: 'north' },
    { key: 'islands', name: 'Islands', parent: 'north-west' },
  ]);
  const { role, mayTakeLeads, whyNot, takes, password, retired } = await server.source.manager.findOneByOrFail(
    PersonEntity,
    { key: 'dee' },
  );
  await insertRows(server.source.manager, PersonEntity, [
    { key: 'eir', name: 'Eir Holm', email: 'eir@relvik.example', role, mayTakeLeads, whyNot, takes, password, retired },
  ]);
  await insertRows(server.source.manager, TeamMemberEntity, [
    { team: 'islands', person: 'eir', joined: 0, leads: false },
  ]);
  for (const owner of ['ada', 'bo', 'dee', 'eir']) {
    await admin.post('/api/leads').send({ values: { email: `${owner}@sight.example`, industry: 'Brewery' }, owner });
  }
});
afterAll(() => server.stop());

const seen = async (key: string) => {
  const { rows } = (await (await server.as(key)).get('/api/leads?status=any')).body as LeadPage;
  return rows.flatMap(({ place }) => (place.kind === 'owner' ? [place.rep as string] : [place.kind])).sort();
};

test('a manager sees the teams led and all below them; a rep the own team; an admin everything', async () => {
  expect(await sightOf(server.source.manager, { key: 'boss', name: '', role: 'manager' })).toMatchObject({
    all: false,
    leads: ['north', 'north-west', 'islands'],
  });
  expect(await seen('admin')).toEqual(['ada', 'bo', 'dee', 'eir']);
  expect(await seen('boss')).toEqual(['ada', 'bo', 'eir']);
  expect(await seen('ada')).toEqual(['ada', 'bo']);
  expect(await seen('eir')).toEqual(['eir']);
});

test('a manager sees the bay of the own teams, a rep no bay', async () => {
  await admin.patch('/api/people/ada').send({ mayTakeLeads: false, limit: 2, whyNot: 'away' });
  await admin.patch('/api/people/bo').send({ mayTakeLeads: false, limit: null, whyNot: 'away' });
  await admin.post('/api/leads').send({ values: { email: 'waits@sight.example', industry: 'Brewery', country: 'NO' } });
  expect(await seen('boss')).toContain('bay');
  expect(await seen('ada')).not.toContain('bay');
  const home = (await (await server.as('boss')).get('/api/home')).body as Home;
  expect(home.attention).toMatchObject([{ what: 'bay-nobody-free', count: 1 }]);
  expect(((await (await server.as('ada')).get('/api/home')).body as Home).attention).toEqual([]);
});

test('people, teams and queues are shown as far as they are seen', async () => {
  const people = async (key: string) => (await (await server.as(key)).get('/api/people')).body as People;
  const ofAda = await people('ada');
  expect(ofAda.people.map((person) => person.key).sort()).toEqual(['ada', 'bo', 'boss', 'cai']);
  expect([ofAda.teams.map((team) => team.key), ofAda.queues]).toEqual([['north'], []]);
  expect((await people('bo')).queues).toMatchObject([{ key: 'projects', members: ['bo', 'dee'] }]);
  expect((await people('admin')).people).toHaveLength(7);
});

test('the names a rep gets for the reasoning hold no people out of sight', async () => {
  const names = async (key: string) =>
    ((await (await server.as(key)).get('/api/wording')).body as { names: { reps: { key: string }[] } }).names.reps
      .map((rep) => rep.key)
      .sort();
  expect(await names('ada')).toEqual(['ada', 'bo', 'boss', 'cai']);
  expect(await names('admin')).toHaveLength(7);
});

test('a change of a person is checked field by field', async () => {
  const change = async (key: string, body: object) =>
    (await admin.patch(`/api/people/${key}`).send(body)).body as object;
  expect(await change('ada', { mayTakeLeads: true, limit: 1.5, whyNot: null })).toMatchObject({
    status: 422,
    errors: [{ path: '/limit' }],
  });
  expect(await change('ada', { mayTakeLeads: true, limit: -1, whyNot: null })).toMatchObject({
    errors: [{ path: '/limit', message: 'must be 0 or more' }],
  });
  expect(await change('ada', { limit: null })).toMatchObject({ status: 422 });
  expect(await change('nobody', { mayTakeLeads: true, limit: 1, whyNot: null })).toMatchObject({ status: 404 });
  const { people } = (await change('ada', { mayTakeLeads: true, limit: null, whyNot: 'was away' })) as People;
  expect(people.find((person) => person.key === 'ada')).toMatchObject({
    mayTakeLeads: true,
    limit: null,
    whyNot: null,
  });
});

test('news of a lead that left one’s sight is no news any more', async () => {
  const values = { email: 'moves@sight.example', name: 'Moving Lead', industry: 'Brewery' };
  const { id } = (await admin.post('/api/leads').send({ values })).body as { id: number };
  await admin.post(`/api/leads/${id}/assign`).send({ rep: 'eir' }).expect(200);
  await server.deliver();
  const news = async () => ((await (await server.as('eir')).get('/api/home')).body as Home).notices;
  expect((await news()).map(({ record }) => record?.id)).toContain(id);
  await admin.post(`/api/leads/${id}/assign`).send({ rep: 'dee' }).expect(200);
  expect((await news()).map(({ record }) => record?.id)).not.toContain(id);
});
