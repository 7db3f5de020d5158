import type { Fairness } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { PersonEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (count: number): Promise<void> => {
  for (let i = 0; i < count; i += 1) {
    const email = `p${(brought += 1)}@fair.example`;
    await admin
      .post('/api/leads')
      .send({ values: { email, industry: 'Brewery', country: 'NO' } })
      .expect(201);
  }
};
const fairness = async (agent: Agent, since = 'days') =>
  (await agent.get(`/api/fairness?since=${since}`).expect(200)).body as Fairness;

test('what each should have had and got of a route’s leads, with the reasons; a hand and an edit count as nothing', async () => {
  await bring(6);
  const [first] = ((await admin.get('/api/leads?size=50')).body as { rows: { id: number }[] }).rows;
  await admin
    .post('/api/leads/give')
    .send({ ids: [first?.id], to: 'rep', key: 'dee' })
    .expect(200);
  const { routes, now, cut } = await fairness(admin);
  expect(cut).toBe(false);
  // Ada may own two; the other four went to bo, with ada passed over at two of them in her turn.
  expect(routes).toMatchObject([
    {
      ...{ route: 'north', given: 6, waited: 0, index: 0.9 },
      shares: [
        { rep: 'ada', weight: 1, should: 3, got: 2 },
        { rep: 'bo', weight: 1, should: 3, got: 4 },
      ],
    },
  ]);
  expect(routes[0]?.shares[0]?.passedOver[0]).toMatchObject({ why: 'at-limit' });
  expect(now).toContainEqual({ rep: 'cai', exclusion: { why: 'may-not-take-leads' } });
});

test('only the last 30 days count, or since the charter came into force; a manager sees their people', async () => {
  await bring(2);
  server.now = new Date(server.now.getTime() + 31 * 86_400_000);
  admin = await server.as('admin');
  await server.source.manager.update(PersonEntity, { key: 'ada' }, { away: true });
  await bring(1);
  const given = async (since: string) => (await fairness(admin, since)).routes.map((route) => route.given);
  expect([await given('days'), await given('charter')]).toEqual([[1], [3]]);
  expect((await admin.get('/api/fairness?since=ever')).body).toMatchObject({ errors: [{ path: '/since' }] });
  const { routes, now } = await fairness(await server.as('boss'));
  expect(routes[0]?.shares.map(({ rep }) => rep)).toEqual(['ada', 'bo']);
  expect(now.map(({ rep }) => rep)).not.toContain('dee');
});
