import type { DealSums, RecordDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const make = async (owner: string, values: object): Promise<number> => {
  const company = await admin.post('/api/companies').send({ values: { 'company.name': `Firm ${Math.random()}` } });
  const sent = { company: (company.body as RecordDetail).id, owner, values };
  return ((await admin.post('/api/deals').send(sent).expect(201)).body as RecordDetail).id;
};
const sums = async (agent: Agent, query: object = {}): Promise<DealSums> =>
  (await agent.get('/api/deal-sums').query(query).expect(200)).body as DealSums;

test('deals are added up by stage in the base currency; what has no amount, no currency or no rate is counted beside', async () => {
  // 1 NOK is 0.085 EUR; 2.50 and 7.50 NOK of one day are 0.85 EUR together.
  const amounts = ['1000.10 EUR', '2.50 NOK', '7.50 NOK', '250000 JPY', '1200.125 KWD', '5000', ''];
  for (const amount of amounts) await make('ada', amount === '' ? {} : { 'deal.amount': amount });
  const won = await make('ada', { 'deal.amount': '40 EUR', 'deal.close': '2026-03-01' });
  await make('dee', { 'deal.amount': '9 EUR', 'deal.close': '2026-03-01' });
  await make('dee', { 'deal.amount': '9 EUR', 'deal.close': '2026-03-02' });
  await admin.post(`/api/deals/${won}/stage`).send({ stage: 'deal-won' }).expect(200);

  const open = { stage: 'deal-open', count: 9, sum: 100_010 + 85 + 1800, withoutAmount: 2, withoutRate: 2, overdue: 1 };
  const closed = { stage: 'deal-won', count: 1, sum: 4000, withoutAmount: 0, withoutRate: 0, overdue: 0 };
  const all = await sums(admin, { status: 'any' });
  expect(all.currency).toBe('EUR');
  expect(all.stages.toSorted((a, b) => b.count - a.count)).toEqual([open, closed]);
  // Open ones alone, of one owner, and what a rep sees.
  expect((await sums(admin)).stages).toEqual([open]);
  expect((await sums(admin, { owner: 'dee' })).stages).toMatchObject([{ count: 2, sum: 1800, overdue: 1 }]);
  expect((await sums(await server.as('ada'))).stages).toMatchObject([{ count: 7, sum: 100_095, overdue: 0 }]);
  const when = JSON.stringify({ test: 'blank', subject: { kind: 'field', field: 'deal.amount' } });
  expect((await sums(admin, { when })).stages).toMatchObject([{ count: 1, sum: 0, withoutAmount: 1 }]);
});
