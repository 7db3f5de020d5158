import type { Accepted, Bay } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { freeBay } from './free-bay';

/** Routes give only to who is signed in and was seen lately. */
const presentOnly = (charter: Charter): Charter => ({
  ...charter,
  streams: charter.streams.map((stream) => ({
    ...stream,
    routes: stream.routes.map((route) => ({ ...route, respects: { hours: false, limit: false, presence: true } })),
  })),
});

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(presentOnly);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (): Promise<number> => {
  const values = { email: `p${(brought += 1)}@seen.example`, industry: 'Brewery', country: 'NO' };
  return ((await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted).id;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const later = (minutes: number): void => {
  server.now = new Date(server.now.getTime() + minutes * 60_000);
};

test('leads go to who is signed in and seen lately, and wait while nobody is; a sign-out counts at once', async () => {
  const first = await bring();
  expect((await lead(first)).bay).toMatchObject({ why: 'nobody-free' });
  const bay = (await admin.get('/api/bay')).body as Bay;
  expect(bay.groups[0]?.skipped).toContainEqual({ rep: 'bo', exclusion: { why: 'not-present', seen: null } });

  const bo = await server.as('bo');
  await bo.get('/api/session').expect(200);
  expect(await freeBay(server.source, server.now)).toBe(1);
  expect((await lead(first)).owner).toBe('bo');

  later(9);
  expect((await lead(await bring())).owner).toBe('bo');
  later(1);
  const waits = await bring();
  expect((await lead(waits)).place).toBe('bay');
  await bo.get('/api/home').expect(200);
  await freeBay(server.source, server.now);
  expect((await lead(waits)).owner).toBe('bo');

  await bo.delete('/api/session').expect(204);
  expect((await lead(await bring())).place).toBe('bay');
});

test('of two who are there the turns go on as ever', async () => {
  for (const key of ['ada', 'bo']) await (await server.as(key)).get('/api/session').expect(200);
  const owners: (string | null)[] = [];
  for (let i = 0; i < 4; i += 1) owners.push((await lead(await bring())).owner);
  expect(owners).toEqual(['ada', 'bo', 'ada', 'bo']);
});
