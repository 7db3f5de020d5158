import type { Accepted, Distribution, Home, LeadPage, RuleCounts } from '@relvik/contracts';
import type { GroundCount } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const bring = (email: string, values: object) => admin.post('/api/leads').send({ values: { email, ...values } });
  await bring('n1@c.example', { industry: 'Brewery', country: 'NO' });
  await bring('n2@c.example', { industry: 'Brewery', country: 'SE', employees: '90' });
  await bring('d1@c.example', { industry: 'Brewery', country: 'DE' });
  await bring('m1@c.example', { industry: 'Brewery', country: 'Malta' });
  await bring('u1@c.example', { industry: 'Brewery', employees: 'many' });
  await bring('x1@c.example', { industry: 'Golf course' });
  const { rows } = (await admin.get('/api/leads?owner=bo')).body as LeadPage;
  await admin.post(`/api/leads/${rows[0]?.id ?? 0}/close`).send({ outcome: 'won', reason: 'signed' });
});
afterAll(() => server.stop());

test('the home page counts what the lists show', async () => {
  const home = (await admin.get('/api/home')).body as Home;
  expect(home.byStatus).toEqual([
    { status: 'open', count: 5 },
    { status: 'won', count: 1 },
  ]);
  expect(home.byStage).toEqual([
    { stage: 'qualified', count: 3 },
    { stage: 'new', count: 2 },
  ]);
  expect(home.course).toEqual({ intake: 6, score: 5, grade: 5, gates: 4, territories: 3, routes: 3, people: 2 });
  for (const { territory, count } of home.byTerritory) {
    expect((await admin.get('/api/lead-count').query({ territory: territory ?? 'none' })).body).toEqual({ count });
  }
});

test('what needs someone is named, with how many and since when', async () => {
  const { attention } = (await admin.get('/api/home')).body as Home;
  const since = server.now.getTime();
  expect(attention).toEqual([
    { what: 'bay-unjudged', about: null, count: 1, since },
    { what: 'last-resort', about: 'operations', count: 1, since },
    { what: 'queue', about: 'projects', count: 1, since },
    { what: 'open-ground', about: null, count: 1, since },
  ]);
});

test('news: an owner hears of the own leads, queue members of their queue, operations of what no route took', async () => {
  await server.deliver();
  const news = async (key: string) =>
    ((await (await server.as(key)).get('/api/home')).body as Home).notices.map((notice) => notice.kind).sort();
  expect(await news('admin')).toEqual(['bay', 'last-resort']);
  expect(await news('ada')).toEqual(['assigned']);
  expect(await news('bo')).toEqual(['assigned', 'in-queue']);
  expect(await news('cai')).toEqual([]);
});

test('what rules came to: routes, territories, cells with their won share, open ground', async () => {
  const counts = (await admin.get('/api/rule-counts')).body as RuleCounts;
  const last = server.now.getTime();
  expect(counts.routes).toEqual({ north: { leads: 2, waiting: 0, last }, centre: { leads: 1, waiting: 0, last } });
  expect(counts.routesChanged['north']).toMatchObject({ charter: 1, by: expect.any(String) as string });
  expect(counts.territories).toEqual({ nordics: 2, dach: 1 });
  expect(counts.openGround).toEqual([{ country: 'MT', count: 1 }]);
  const cell = (fitBand: string) =>
    counts.cells.find((one) => one.fitBand === fitBand && one.engagementBand === 'quiet');
  expect(cell('a')).toMatchObject({ count: 1, won: 1, closed: 1 });
  expect(cell('b')).toMatchObject({ count: 3, won: 0, closed: 0 });
});

test('the distribution of a score set holds every open lead that it gives a score', async () => {
  const { fit, engagement } = (await admin.get('/api/score-sets/leads/distribution')).body as Distribution;
  expect(fit).toEqual([
    { score: 0, count: 1 },
    { score: 60, count: 3 },
  ]);
  expect(engagement).toEqual([{ score: 0, count: 5 }]);
});

test.each(['boss', 'ada', 'bo', 'dee'])(
  '%s is told the counts of the leads in sight, as the lists show them',
  async (key) => {
    const agent = await server.as(key);
    const { byStatus, byStage, byTerritory, course } = (await agent.get('/api/home')).body as Home;
    const count = async (query: object) =>
      ((await agent.get('/api/lead-count').query(query)).body as { count: number }).count;
    expect(course.intake).toBe(await count({ status: 'any' }));
    for (const one of byStatus)
      expect([one.status, one.count]).toEqual([one.status, await count({ status: one.status })]);
    for (const one of byStage) expect([one.stage, one.count]).toEqual([one.stage, await count({ stage: one.stage })]);
    for (const { territory, count: n } of byTerritory)
      expect([territory, n]).toEqual([territory, await count({ territory: territory ?? 'none' })]);
  },
);

test('in the watershed as many leads leave a part as came into it, but those that go no further', async () => {
  const { watershed, course } = (await admin.get('/api/home')).body as Home;
  const flow = (of: 'from' | 'to', kind: string): Record<string, number> => {
    const sums: Record<string, number> = {};
    for (const link of watershed.links)
      if (link[of].startsWith(`${kind}:`)) sums[link[of]] = (sums[link[of]] ?? 0) + link.count;
    return sums;
  };
  const total = (sums: Record<string, number>): number => Object.values(sums).reduce((a, b) => a + b, 0);
  expect(total(flow('from', 'fit'))).toBe(course.intake);
  expect(total(flow('to', 'stage'))).toBe(course.intake);
  // Only stages in which routes act lead on to territories.
  expect(flow('from', 'stage')).toEqual({ 'stage:qualified': flow('to', 'stage')['stage:qualified'] });
  expect(total(flow('from', 'territory'))).toBeLessThanOrEqual(total(flow('to', 'territory')));
  expect(total(flow('to', 'team')) + total(flow('to', 'rep'))).toBe(course.people);
});

test('leads are counted by the ground of their address, with the amounts of the open ones in the base currency', async () => {
  const grounds = async () =>
    ((await admin.get('/api/ground-counts')).body as GroundCount[]).filter(({ country }) => country === 'IS');
  const bring = (i: number, amount: string) =>
    admin.post('/api/leads').send({ values: { email: `i${i}@is.example`, country: 'Iceland', deal_value: amount } });
  for (const [i, amount] of ['1000 EUR', '2000 NOK', '7 XXX'].entries()) await bring(i, amount);
  const { id } = (await bring(3, '300 EUR')).body as Accepted;
  await admin.post(`/api/leads/${id}/close`).send({ outcome: 'won', reason: 'signed' });
  const counted = { country: 'IS', region: null, territory: null, leads: 4, open: 3, won: 1, closed: 1 };
  expect(await grounds()).toEqual([{ ...counted, value: 0 }]);
  // Of the field that says what leads are worth: 1,000.00 EUR, and 2,000.00 NOK at 0.085.
  await admin
    .patch('/api/fields/deal_value')
    .send({ name: 'Deal value', options: [], retired: false, role: 'amount' })
    .expect(200);
  expect(await grounds()).toEqual([{ ...counted, value: 117_000 }]);
  // Other roles are given once.
  const country = { name: 'Country', options: [], retired: false, role: null };
  await admin.patch('/api/fields/country').send(country).expect(422);
});
