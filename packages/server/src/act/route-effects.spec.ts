import type { Accepted, LeadDetail } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { OutboxEntity } from '../store/entity/outbox.entity';

/** All routes tag and tell. */
const telling = (charter: Charter): Charter => ({
  ...charter,
  streams: charter.streams.map((stream) => ({
    ...stream,
    again: ['edited'] as const,
    routes: stream.routes.map((route) => ({
      ...route,
      tags: ['Routed', `By ${route.name}`],
      tell: ['manager', 'operations'] as const,
    })),
  })),
});

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(telling);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (more: object = {}): Promise<number> => {
  const values = { email: `p@told.example`, industry: 'Brewery', country: 'NO', ...more };
  return ((await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted).id;
};
const detail = async (id: number) => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const tagsOf = async (id: number) => (await detail(id)).values.find(({ field }) => field === 'tags')?.shown;
const told = async () =>
  (await server.source.manager.find(OutboxEntity, { order: { id: 'ASC' } })).map(
    ({ body: { notice, person, queue } }) => `${notice} ${person ?? queue ?? 'operations'}`,
  );

test('a route tags what it gives away and tells whom it names, once; the tags stand in the history, and are suggested from then on', async () => {
  const id = await bring({ tags: 'routed; Old friend' });
  expect(await tagsOf(id)).toBe('By Nordics; Old friend; routed');
  expect(await told()).toEqual(['assigned ada', 'routed boss', 'routed operations']);
  const line = (await detail(id)).history.find(({ field }) => field === 'tags');
  expect(line).toMatchObject({ cause: 'rule', reason: 'added by the route' });
  const { fields } = (await admin.get('/api/wording')).body as { fields: { key: string; options: string[] }[] };
  expect(fields.find(({ key }) => key === 'tags')?.options).toContain('By Nordics');

  // It stays where it is: nothing happens once more.
  const { version } = await detail(id);
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version, values: { employees: 20 } })
    .expect(200);
  expect(await told()).toHaveLength(3);

  const { version: next } = await detail(id);
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: next, values: { country: 'DE' } })
    .expect(200);
  expect(await tagsOf(id)).toBe('By D-A-CH; By Nordics; Old friend; routed');
  expect((await told()).slice(3)).toEqual(['in-queue projects', 'routed operations']);
});

test('what waits in the bay has no tags of the route yet; it gets them when someone is free', async () => {
  await server.source.query("UPDATE person SET takes = 0 WHERE `key` IN ('ada', 'bo')");
  const id = await bring();
  expect(await tagsOf(id)).toBeUndefined();
  await admin.patch('/api/people/bo').send({ mayTakeLeads: true, limit: null, whyNot: null }).expect(200);
  expect(await detail(id)).toMatchObject({ place: { kind: 'owner', rep: 'bo' } });
  expect(await tagsOf(id)).toBe('By Nordics; Routed');
});
