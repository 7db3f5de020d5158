import type { PipelineFigures } from '@relvik/contracts';
import { median } from 'simple-statistics';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const DAY = 86_400_000;
const figures = async (): Promise<PipelineFigures> =>
  (await admin.get('/api/pipelines').expect(200)).body as PipelineFigures;
const of = async (stage: string) => (await figures()).stages.find((one) => one.stage === stage);

test('what is open in a stage, how long in the median, and what is closed there', async () => {
  const begun = server.now.getTime();
  const ages = [0.25, 3, 11.5, 40, 2];
  const ids: number[] = [];
  for (const [i, age] of ages.entries()) {
    server.now = new Date(begun - age * DAY);
    const values = { email: `a${i}@fjord.example`, industry: i === 4 ? 'Golf course' : 'Brewery', country: 'NO' };
    ids.push(((await admin.post('/api/leads').send({ values })).body as { id: number }).id);
  }
  server.now = new Date(begun);
  await admin.post(`/api/leads/${ids[0]}/close`).send({ outcome: 'won', reason: 'signed' }).expect(200);
  const open = await server.source.manager.findBy(LeadEntity, { status: 'open', stage: 'qualified' });
  const expected = median(open.map(({ stageSince }) => (begun - stageSince.getTime()) / DAY));
  const found = await of('qualified');
  expect(found).toMatchObject({ open: open.length, closed: 1 });
  expect(open.length).toBeGreaterThan(2);
  // By the library simple-statistics.
  expect(found?.days).toBeCloseTo(expected, 3);
  expect(await of('deal-open')).toBeUndefined();
});

test('moves of the last 30 days by gate, and by hand for deals', async () => {
  const begun = server.now.getTime();
  const bring = async (email: string): Promise<number> => {
    const values = { email, company: 'Fjord', industry: 'Brewery', country: 'NO' };
    return ((await admin.post('/api/leads').send({ values })).body as { id: number }).id;
  };
  server.now = new Date(begun - 31 * DAY);
  await bring('old@fjord.example');
  server.now = new Date(begun);
  admin = await server.as('admin');
  const lead = await bring('new@fjord.example');
  const made = await admin.post('/api/deals').send({ values: {}, lead }).expect(201);
  await admin
    .post(`/api/deals/${(made.body as { id: number }).id}/stage`)
    .send({ stage: 'deal-offer' })
    .expect(200);
  expect((await figures()).moves).toEqual(
    expect.arrayContaining([
      { gate: 'qualify', from: 'new', to: 'qualified', count: 1 },
      { gate: null, from: 'deal-open', to: 'deal-offer', count: 1 },
    ]),
  );
  expect((await figures()).moves).toHaveLength(2);
});
