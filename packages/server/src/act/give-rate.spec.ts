import type { CharterState, DeskAnswer, RateGiven } from '@relvik/contracts';
import type { Impact } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { SMALL_CHARTER } from '../fixture/small-world.fixture';
import { passTime } from '../job/pass-time';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string, deal_value: string) => {
  const values = { email, deal_value, industry: 'Brewery', employees: '80' };
  return ((await admin.post('/api/leads').send({ values })).body as { id: number }).id;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const NOK = { currency: 'NOK', from: '2026-01-01' };
const correct = async (rate: string) =>
  (await admin.put(`/api/rates/${NOK.currency}/${NOK.from}`).send({ rate }).expect(200)).body as RateGiven;

test('a corrected rate makes the leads with such amounts due, and no others', async () => {
  const [crowns, euros] = [await bring('n@l.example', '200000 NOK'), await bring('e@l.example', '17000 EUR')];
  const before = await leadOf(euros);
  expect((await correct('0.15')).due).toBe(1);
  expect((await leadOf(crowns)).changesAt).toEqual(server.now);
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await leadOf(euros)).toEqual(before);
  expect((await leadOf(crowns)).changesAt?.getTime()).toBeGreaterThan(server.now.getTime());
});

test('a correction concerns no amounts from the day of the next rate on', async () => {
  await bring('n@l.example', '200000 NOK');
  const next = { currency: NOK.currency, from: '2026-03-01', rate: '0.09' };
  expect((await admin.post('/api/rates').send(next).expect(201)).body).toMatchObject({ due: 1 });
  expect((await correct('0.15')).due).toBe(0);
});

test('a gate that a rate makes true acts, though nothing but the rate changed', async () => {
  const worth = {
    test: 'range',
    subject: { kind: 'field', field: 'deal_value' },
    from: { at: '25000', included: true },
    to: null,
  };
  const gates = [{ key: 'worth', name: 'Worth it', from: 'new', to: 'qualified', on: true, when: worth }];
  const begun = (await admin.post('/api/drafts').send({ name: 'Next' })).body as CharterState;
  const draft = begun.draft!;
  const charter = { ...SMALL_CHARTER, name: 'Next', gates };
  await admin.put(`/api/drafts/${draft.id}`).send({ version: draft.version, charter }).expect(200);
  await admin
    .post(`/api/drafts/${draft.id}/enact`)
    .send({ version: draft.version + 1, reason: 'x' })
    .expect(202);
  const id = await bring('n@l.example', '200000 NOK');
  expect(await leadOf(id)).toMatchObject({ stage: 'new' });
  await correct('0.15');
  await passTime(server.source, server.now);
  expect(await leadOf(id)).toMatchObject({ stage: 'qualified' });
});

test('the reference itself has no rate, a day has one, and what is not there is not put right', async () => {
  const give = (rate: object) => admin.post('/api/rates').send(rate);
  expect((await give({ currency: 'EUR', from: '2026-01-01', rate: '1' })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/currency', message: 'is the currency in which rates are given: EUR' }],
  });
  expect((await give({ ...NOK, rate: '0.09' })).body).toMatchObject({ status: 422, errors: [{ path: '/from' }] });
  expect((await give({ ...NOK, from: '2026-02-01', rate: '0.09' })).status).toBe(201);
  await admin.put('/api/rates/NOK/2026-01-02').send({ rate: '0.09' }).expect(404);
});

test('a draft with another base currency is judged by cross rates, in the impact as when it decides', async () => {
  const id = await bring('x@l.example', '17000 EUR');
  // 17,000 EUR are 200,000 NOK at 0.085.
  const worth = {
    test: 'range',
    subject: { kind: 'field', field: 'deal_value' },
    from: { at: '200000', included: true },
    to: null,
  };
  const set = SMALL_CHARTER.scoreSets[0]!;
  const signal = { kind: 'attribute', key: 'worth', name: 'Worth', axis: 'fit', on: true, points: 7, group: null };
  const draft = {
    ...SMALL_CHARTER,
    baseCurrency: 'NOK',
    scoreSets: [{ ...set, signals: [{ ...signal, when: worth }] }],
  };
  const asks = { pair: { inForce: SMALL_CHARTER, draft }, reading: { kind: 'came-in' } };
  const said = await admin.post('/api/population/questions').send({ question: 'impact', asks });
  const impact = ((said.body as DeskAnswer).answer as { answer: Impact }).answer;
  expect(impact.leads.grade).toMatchObject([{ id, rank: [100, 7] }]);
});
