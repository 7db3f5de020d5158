import type { Accepted, People, Retired } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { DealEntity } from '../store/entity/deal.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity, QueueMemberEntity, TeamMemberEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (values: object = {}): Promise<number> => {
  const email = `p${(brought += 1)}@go.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'NO', ...values } };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const people = async () => (await admin.get('/api/people')).body as People;
const nova = { name: 'Nova Brekke', email: 'nova@relvik.example', role: 'rep', team: 'north' };

test('someone new stands last in the turns of their team, and gets a lead in the first round; their e-mail is theirs alone', async () => {
  const first = await bring();
  await admin.post('/api/people').send(nova).expect(201);
  const row = (await people()).people.find(({ name }) => name === 'Nova Brekke');
  expect(row).toMatchObject({ role: 'rep', mayTakeLeads: true, open: 0, teams: ['north'] });
  const owners = [first, await bring(), await bring()].map(async (id) => (await leadOf(id)).owner);
  expect(await Promise.all(owners)).toEqual(['ada', 'bo', row?.key]);
  expect((await admin.post('/api/people').send({ ...nova, email: 'NOVA@relvik.example' })).body).toMatchObject({
    errors: [{ path: '/email' }],
  });
  expect((await admin.post('/api/people').send({ ...nova, email: 'nobody', team: 'moon' })).body).toMatchObject({
    errors: [{ path: '/email', message: 'must be an e-mail' }],
  });
  expect(
    (await admin.post('/api/people').send({ ...nova, email: 'm@relvik.example', team: 'moon' })).body,
  ).toMatchObject({
    errors: [{ path: '/team' }],
  });
  // No password fits someone who has none.
  const signIn = (password: string) => server.anyone.post('/api/session').send({ email: nova.email, password });
  expect([(await signIn('none')).status, (await signIn('')).status]).toEqual([401, 422]);
});

test('who retires gives all away as said: leads by rule, the rest to an heir; turns go on, and they are signed out', async () => {
  const [one, two, three] = [await bring(), await bring(), await bring()];
  await admin
    .post('/api/deals')
    .send({ values: { 'deal.name': 'Pumps', 'deal.amount': '900 EUR' }, lead: two })
    .expect(201);
  await admin.put('/api/queues/projects').send({ name: 'Projects', order: 'oldest', mostHeld: null, members: ['bo'] });
  const bo = await server.as('bo');
  const retire = (leads: object, heir: string | null = 'dee') =>
    admin.post('/api/people/bo/retire').send({ leads, heir });
  expect((await retire({ to: 'rep', key: 'bo' })).body).toMatchObject({ errors: [{ path: '/leads/key' }] });
  expect((await retire({ to: 'team', key: 'north' }, 'ghost')).body).toMatchObject({ errors: [{ path: '/heir' }] });

  // Ada has two already, and her limit is two: what nobody takes stays, and so does bo.
  const stays = (await retire({ to: 'team', key: 'north' }).expect(200)).body as Retired;
  expect(stays.given).toMatchObject({ done: [], refused: [{ id: two }] });
  expect(await server.source.manager.findOneByOrFail(PersonEntity, { key: 'bo' })).toMatchObject({
    ...{ retired: false, mayTakeLeads: false },
  });
  const gone = (await retire({ to: 'rep', key: 'dee' }).expect(200)).body as Retired;
  expect(gone.given).toMatchObject({ done: [two], refused: [] });
  expect(gone.people.people.map(({ key }) => key)).not.toContain('bo');
  expect([(await leadOf(one)).owner, (await leadOf(two)).owner, (await leadOf(three)).owner]).toEqual([
    'ada',
    'dee',
    'ada',
  ]);
  expect(await server.source.manager.find(DealEntity)).toMatchObject([{ owner: 'dee' }]);
  expect(await server.source.manager.countBy(TeamMemberEntity, { person: 'bo' })).toBe(0);
  expect(await server.source.manager.countBy(QueueMemberEntity, { person: 'bo' })).toBe(0);
  expect((await bo.get('/api/people')).status).toBe(401);
  const { retired } = (await admin.get('/api/wording')).body as { retired: unknown };
  expect(retired).toEqual([{ key: 'bo', name: 'Bo Rask (retired)' }]);
  await server.source.manager.update(PersonEntity, { key: 'ada' }, { takes: null });
  expect((await leadOf(await bring())).owner).toBe('ada');
});

test('whom a charter names stays, and so does who retires others', async () => {
  const retire = (key: string) =>
    admin.post(`/api/people/${key}/retire`).send({ leads: { to: 'again', key: null }, heir: null });
  expect((await retire('ada')).body).toMatchObject({
    errors: [{ path: '/key', message: 'is named by Small: change it there first' }],
  });
  expect((await retire('admin')).body).toMatchObject({ errors: [{ message: 'is yourself' }] });
  expect((await retire('ghost')).status).toBe(404);
});

test('a team is made, named, led and taken out; one that a charter names stays, or that has another inside', async () => {
  await admin.post('/api/teams').send({ name: 'Night' }).expect(201);
  const night = (await people()).teams.find(({ name }) => name === 'Night')?.key ?? '';
  const change = (more: object) =>
    admin
      .patch(`/api/teams/${night}`)
      .send({ paused: false, parent: null, hours: null, members: ['boss', 'dee'], ...more });
  await change({ name: 'Night desk', leaders: ['boss'] }).expect(200);
  expect((await change({ leaders: ['ada'] })).body).toMatchObject({ errors: [{ path: '/leaders/0' }] });
  expect((await people()).teams.find(({ key }) => key === night)).toMatchObject({
    ...{ name: 'Night desk', leaders: ['boss'], members: ['boss', 'dee'] },
  });
  const remove = (key: string) => admin.delete(`/api/teams/${key}`);
  await admin.patch('/api/teams/overseas').send({ paused: false, parent: night, hours: null, members: [] }).expect(200);
  expect((await remove(night)).body).toMatchObject({ errors: [{ message: 'has teams inside it' }] });
  expect((await remove('north')).body).toMatchObject({ errors: [{ message: 'is named by Small' }] });
  await remove('overseas').expect(200);
  await remove(night).expect(200);
  expect((await remove(night)).status).toBe(404);
});
