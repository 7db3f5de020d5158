import type { Accepted, Bay, LeadDetail, People } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { tellOfLongWaits } from '../job/bay-alarm';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { PersonEntity, RepLoadEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
let bo: Agent;
let dee: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  [admin, bo, dee] = [await server.as('admin'), await server.as('bo'), await server.as('dee')];
});
afterEach(() => server.stop());

const wait = (hours: number): void => {
  server.now = new Date(server.now.getTime() + hours * 3_600_000);
};
let brought = 0;
const bring = async (values: object = {}): Promise<number> => {
  wait(0.1);
  const email = `p${(brought += 1)}@queue.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'DE', ...values } };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const bringMany = async (count: number, values: object = {}): Promise<number[]> => {
  const ids: number[] = [];
  while (ids.length < count) ids.push(await bring(values));
  return ids;
};
const projects = { name: 'Projects', order: 'oldest', mostHeld: null, members: ['bo', 'dee'] };
const setQueue = (change: object) => admin.put('/api/queues/projects').send({ ...projects, ...change });
const next = (agent: Agent) => agent.post('/api/queues/projects/next').send({});
const picked = async (agent: Agent) => ((await next(agent).expect(200)).body as LeadDetail).id;
const person = (key: string, change: Partial<PersonEntity>) =>
  server.source.manager.update(PersonEntity, { key }, change);
const openOf = async (rep: string) => (await server.source.manager.findOneBy(RepLoadEntity, { rep }))?.open ?? 0;

test('the next of a queue is the oldest, or the one that ranks best; an empty queue says so, another’s is not there', async () => {
  const [oldest, low, high] = [await bring(), await bring(), await bring({ employees: '500' })];
  const rankOf = async (id: number) => (await server.source.manager.findOneByOrFail(LeadEntity, { id })).rankOrder;
  expect(await rankOf(high)).toBeGreaterThan(await rankOf(low));
  expect(await picked(bo)).toBe(oldest);
  await setQueue({ order: 'rank' }).expect(200);
  expect([await picked(bo), await picked(dee)]).toEqual([high, low]);
  expect((await next(bo)).body).toMatchObject({ status: 409, title: 'Nothing waits in this queue' });
  expect((await (await server.as('ada')).post('/api/queues/projects/next').send({})).status).toBe(404);
});

test('picked up by two at once with one of them full: the other gets it; of several at once each gets another', async () => {
  await person('bo', { takes: 1 });
  const [mine, contested] = (await bringMany(2)) as [number, number];
  await bo.post(`/api/leads/${mine}/pick-up`).send({}).expect(200);
  const tries = await Promise.all([bo, dee].map((agent) => agent.post(`/api/leads/${contested}/pick-up`).send({})));
  expect(tries.map(({ status }) => status)).toEqual([409, 200]);
  // Whether dee was quicker decides which of the two bo is told.
  expect(['You have as many leads as you may have', 'It was picked up already']).toContain(
    (tries[0]?.body as { title: string }).title,
  );
  // It is out of bo’s sight by now, and bo is told why all the same.
  expect((await bo.post(`/api/leads/${contested}/pick-up`).send({})).body).toMatchObject({
    ...{ status: 409, title: 'It was picked up already' },
  });
  expect([await openOf('bo'), await openOf('dee')]).toEqual([1, 1]);
  await person('bo', { takes: null });
  const ids = await bringMany(6);
  const got = await Promise.all([bo, dee, bo, dee, bo, dee].map((agent) => next(agent)));
  expect(got.map(({ body }) => (body as LeadDetail).id).sort((a, b) => a - b)).toEqual(ids);
});

test('who may take no leads picks up none, and says why', async () => {
  await bring();
  await person('dee', { mayTakeLeads: false, whyNot: 'on probation' });
  expect((await next(dee)).body).toMatchObject({
    ...{ status: 409, title: 'You may not take leads', detail: 'on probation.' },
  });
});

test('nobody holds more of a queue than it allows, also of two at once; given back with a reason, it waits there again', async () => {
  await setQueue({ mostHeld: 2 }).expect(200);
  const ids = await bringMany(4);
  const tries = await Promise.all([next(bo), next(bo), next(bo)]);
  expect(tries.map(({ status }) => status).sort()).toEqual([200, 200, 409]);
  expect(tries.find(({ status }) => status === 409)?.body).toMatchObject({
    detail: 'Of Projects one may hold 2 at a time. Close one, or give one back.',
  });
  const of = ((await bo.get('/api/people')).body as People).queues.find(({ key }) => key === 'projects');
  expect(of).toMatchObject({ held: 2, mostHeld: 2, waiting: 2 });
  const held = (await server.source.manager.findBy(LeadEntity, { owner: 'bo' })).map(({ id }) => id);
  const back = (agent: Agent, reason: string) => agent.post(`/api/leads/${held[0] ?? 0}/give-back`).send({ reason });
  expect((await back(bo, ' ')).body).toMatchObject({ status: 422, errors: [{ path: '/reason' }] });
  expect((await back(dee, 'not mine')).status).toBe(404);
  // They are out of sight now, so the answer is read by the admin.
  await back(bo, 'speaks only Danish').expect(200);
  const detail = (await admin.get(`/api/leads/${held[0] ?? 0}`)).body as LeadDetail;
  expect(detail).toMatchObject({ place: { kind: 'queue', queue: 'projects' }, may: { giveBack: false } });
  expect(detail.history[0]).toMatchObject({ field: 'place', by: 'Bo Rask', reason: 'speaks only Danish' });
  await next(bo).expect(200);
  expect(ids).toHaveLength(4);
});

test('queues are made, changed and taken out; one with leads in it, or that a charter names, stays', async () => {
  await admin
    .put('/api/queues/night')
    .send({ ...projects, name: 'Night' })
    .expect(200);
  expect(
    (await admin.put('/api/queues/night').send({ ...projects, members: ['bo', 'ghost', 'bo'] })).body,
  ).toMatchObject({
    errors: [{ path: '/members/1' }, { path: '/members/2' }],
  });
  const id = await bring();
  await admin
    .post('/api/leads/give')
    .send({ ids: [id], to: 'queue', key: 'night' })
    .expect(200);
  const remove = (key: string) => admin.delete(`/api/queues/${key}`);
  expect((await remove('night')).body).toMatchObject({ errors: [{ message: 'has leads waiting in it' }] });
  await admin
    .post('/api/leads/give')
    .send({ ids: [id], to: 'rep', key: 'bo' })
    .expect(200);
  await remove('night').expect(200);
  expect((await remove('night')).status).toBe(404);
  for (const key of ['projects', 'operations'])
    expect((await remove(key)).body).toMatchObject({ errors: [{ message: 'is named by Small' }] });
});

test('the bay says what waits for whom, who could take the oldest, and when; a manager sees that of their teams', async () => {
  await person('ada', { away: true });
  await person('bo', {
    hours: { timeZone: 'UTC', weekly: [{ day: 3, from: '08:00', to: '16:00' }] },
  });
  const ids = await bringMany(2, { country: 'NO' });
  const odd = await bring({ deal_value: 'a lot' });
  const bay = async (agent: Agent) => (await agent.get('/api/bay').expect(200)).body as Bay;
  const forTeam = {
    reason: { why: 'nobody-free', route: 'north', team: 'north' },
    leads: 2,
    oldest: ids.map((id) => expect.objectContaining({ id }) as object),
    skipped: expect.arrayContaining([
      { rep: 'ada', exclusion: { why: 'away' } },
      { rep: 'bo', exclusion: { why: 'outside-hours', next: Date.UTC(2026, 2, 4, 8) } },
    ]) as object[],
  };
  expect(await bay(admin)).toMatchObject({
    tellAfter: 24,
    groups: [forTeam, { reason: { why: 'unjudged', fields: ['deal_value'] }, oldest: [{ id: odd }], skipped: [] }],
  });
  expect((await bay(await server.as('boss'))).groups).toMatchObject([forTeam]);
});

test('operations is told once of each long wait, whichever server finds it, and again after another stay', async () => {
  for (const key of ['ada', 'bo']) await person(key, { away: true });
  const [id] = (await bringMany(1, { country: 'NO' })) as [number];
  const told = () =>
    server.source.manager
      .find(OutboxEntity)
      .then((rows) => rows.filter(({ body }) => body.notice === 'waits-long').map(({ record }) => record));
  await admin.put('/api/bay/alarm').send({ hours: 2 }).expect(200);
  wait(1.9);
  expect(await tellOfLongWaits(server.source, server.now)).toBe(0);
  wait(0.2);
  const both = await Promise.all([1, 2].map(() => tellOfLongWaits(server.source, server.now)));
  expect(both.toSorted()).toEqual([0, 1]);
  expect(await told()).toEqual([id]);
  await admin
    .post('/api/leads/give')
    .send({ ids: [id], to: 'rep', key: 'bo' })
    .expect(200);
  await person('bo', { away: false });
  await admin.put('/api/bay/alarm').send({ hours: null }).expect(200);
  wait(100);
  expect(await tellOfLongWaits(server.source, server.now)).toBe(0);
});
