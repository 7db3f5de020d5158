import type { Accepted, Home, LeadDetail, LeadPage } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { RepLoadEntity } from '../store/entity/people.entity';
import { freeBay } from './free-bay';

const asking = (charter: Charter): Charter => ({
  ...charter,
  streams: charter.streams.map((stream) => ({ ...stream, accept: true })),
});

let server: SmallServer;
let admin: Agent;
let ada: Agent;
beforeEach(async () => {
  server = await SmallServer.start(asking);
  admin = await server.as('admin');
  ada = await server.as('ada');
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (more: object = {}): Promise<number> => {
  const values = { email: `p${(brought += 1)}@accept.example`, industry: 'Brewery', country: 'NO' };
  return (
    (
      await admin
        .post('/api/leads')
        .send({ values, ...more })
        .expect(201)
    ).body as Accepted
  ).id;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const giveBack = (by: Agent, id: number, reason = 'too far away') =>
  by.post(`/api/leads/${id}/give-back`).send({ reason });
const openOf = async (rep: string) => (await server.source.manager.findOneBy(RepLoadEntity, { rep }))?.open ?? 0;

test('an owner accepts what a stream gave them, once; from then on it is theirs', async () => {
  const id = await bring();
  expect(await lead(id)).toMatchObject({ owner: 'ada', acceptance: 'asked' });
  const [row] = ((await ada.get('/api/leads')).body as LeadPage).rows;
  expect(row).toMatchObject({ id, acceptance: 'asked' });
  const home = (await ada.get('/api/home')).body as Home;
  expect(home.attention).toContainEqual({ what: 'to-accept', about: 'ada', count: 1, since: server.now.getTime() });
  expect(((await ada.get('/api/leads?acceptance=accepted')).body as LeadPage).rows).toEqual([]);
  const bo = await server.as('bo');
  expect((await bo.post(`/api/leads/${id}/accept`)).status).toBe(403);
  expect((await admin.post(`/api/leads/${id}/accept`)).status).toBe(403);

  const detail = (await ada.post(`/api/leads/${id}/accept`).expect(200)).body as LeadDetail;
  expect(detail).toMatchObject({ acceptance: 'accepted', may: { accept: false, giveBack: false } });
  expect(detail.history[0]).toMatchObject({ field: 'acceptance', to: 'accepted', by: 'Ada Lindqvist' });
  expect((await giveBack(ada, id)).status).toBe(403);
  // An edit asks nobody again.
  await ada
    .patch(`/api/leads/${id}`)
    .send({ version: detail.version, values: { employees: 50 } })
    .expect(200);
  expect(await lead(id)).toMatchObject({ owner: 'ada', acceptance: 'accepted' });
});

test('who gives it back says why and is passed over; then the next, and when nobody is left it waits in the bay', async () => {
  const id = await bring();
  expect((await giveBack(ada, id, '')).status).toBe(422);
  await giveBack(ada, id).expect(200);
  expect(await lead(id)).toMatchObject({ owner: 'bo', acceptance: 'asked', givenBackBy: ['ada'], route: 'north' });
  expect([await openOf('ada'), await openOf('bo')]).toEqual([0, 1]);
  const detail = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  expect(detail.history[0]).toMatchObject({
    ...{ field: 'place', from: { rep: 'ada' }, to: { rep: 'bo' } },
    ...{ by: 'Ada Lindqvist', reason: 'too far away', rule: 'north' },
  });
  const told = await server.source.manager.find(OutboxEntity, { order: { id: 'ASC' } });
  expect(told.map(({ body }) => body.person)).toEqual(['ada', 'bo']);

  const bo = await server.as('bo');
  await giveBack(bo, id).expect(200);
  expect((await lead(id)).bay).toMatchObject({ why: 'nobody-free', route: 'north' });
  await freeBay(server.source, server.now);
  expect(await lead(id)).toMatchObject({ place: 'bay', givenBackBy: ['ada', 'bo'] });
  expect((await ada.get(`/api/leads/${id}`)).status).toBe(404);

  // Someone who had not had it yet is free by then.
  await admin.patch('/api/people/cai').send({ mayTakeLeads: true, limit: null, whyNot: null }).expect(200);
  expect(await lead(id)).toMatchObject({ owner: 'cai', acceptance: 'asked' });
});

test('what a hand, a file or a pick-up gave asks nobody; a hand makes all good again', async () => {
  const brings = await bring({ owner: 'bo' });
  expect((await lead(brings)).acceptance).toBeNull();
  const id = await bring();
  await giveBack(ada, id).expect(200);
  await admin
    .post('/api/leads/give')
    .send({ ids: [id], to: 'rep', key: 'ada' })
    .expect(200);
  expect(await lead(id)).toMatchObject({ owner: 'ada', acceptance: null, givenBackBy: null });
  expect((await giveBack(ada, id)).status).toBe(403);
});

test('of two answers at once one holds', async () => {
  const id = await bring();
  const answers = await Promise.all([ada.post(`/api/leads/${id}/accept`), giveBack(ada, id)]);
  expect(answers.filter(({ status }) => status === 200)).toHaveLength(1);
  const { owner, acceptance } = await lead(id);
  expect([
    ['ada', 'accepted'],
    ['bo', 'asked'],
  ]).toContainEqual([owner, acceptance]);
});
