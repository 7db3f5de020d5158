import type { CharterState, DoneEach, ProposalPage, RecordDetail } from '@relvik/contracts';
import type { Charter, Meeting } from '@relvik/core';
import type { Agent } from 'supertest';
import { examine } from '../doctor/examine';
import { withGatesOfDeals } from '../fixture/gates-of-deals.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { tendUnrouted } from '../job/tend-unrouted';
import { CharterEntity } from '../store/entity/charter.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';

const DAY = 86_400_000;

let server: SmallServer;
let admin: Agent;
let ada: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withGatesOfDeals);
  [admin, ada] = [await server.as('admin'), await server.as('ada')];
});
afterEach(() => server.stop());

let firms = 0;
const make = async (amount: string | null, owner: string | null = 'ada', industry = 'Mill'): Promise<RecordDetail> => {
  const values = { 'company.name': `Firm ${(firms += 1)}`, 'company.industry': industry };
  const company = ((await admin.post('/api/companies').send({ values }).expect(201)).body as RecordDetail).id;
  const sent = { company, owner, values: amount === null ? {} : { 'deal.amount': amount } };
  return (await admin.post('/api/deals').send(sent).expect(201)).body as RecordDetail;
};
const edit = async ({ id }: { readonly id: number }, values: object): Promise<RecordDetail> => {
  const { version } = await dealOf(id);
  return (await admin.patch(`/api/deals/${id}`).send({ version, values }).expect(200)).body as RecordDetail;
};
const dealOf = (id: number): Promise<DealEntity> => server.source.manager.findOneByOrFail(DealEntity, { id });
const move = (id: number, stage: string, reason?: string) =>
  admin.post(`/api/deals/${id}/stage`).send({ stage, reason }).expect(200);
const toDecide = async (agent: Agent): Promise<ProposalPage> =>
  (await agent.get('/api/proposals').expect(200)).body as ProposalPage;
const decide = async (agent: Agent, id: number, answer: string | null, reason?: string): Promise<DoneEach> =>
  (await agent.post('/api/proposals/decide').send({ decisions: [{ id, answer }], reason })).body as DoneEach;
const statesOf = async (record: number): Promise<string[]> =>
  (await server.source.manager.find(ProposalEntity, { where: { record }, order: { id: 'ASC' } })).map(
    ({ state, why }) => (why === null ? state : `${state} ${why}`),
  );
const shown = ({ values }: RecordDetail, field: string): string | undefined =>
  values.find((one) => one.field === field)?.shown;

test('an amount that is added afterwards lets a deal through, once: it is moved and tagged, and says by which gate', async () => {
  const made = await make(null);
  expect(made).toMatchObject({ stage: 'deal-open', notMoved: [{ gate: 'weighty', to: 'deal-weighty' }] });
  const now = await edit(made, { 'deal.amount': '7500 EUR' });
  expect(now).toMatchObject({ stage: 'deal-weighty', status: 'open' });
  expect(shown(now, 'deal.tags')).toBe('Weighty');
  expect(now.history.filter(({ field }) => field === 'stage')).toMatchObject([
    { from: 'deal-open', to: 'deal-weighty', cause: 'rule', rule: 'weighty' },
  ]);
  // Back by hand the gate still holds, and does not undo the hand; only after it was false it acts again.
  await move(made.id, 'deal-open');
  expect(await edit(made, { 'deal.amount': '8000 EUR' })).toMatchObject({ stage: 'deal-open' });
  await edit(made, { 'deal.amount': '500 EUR' });
  expect(await edit(made, { 'deal.amount': '9000 EUR' })).toMatchObject({ stage: 'deal-weighty' });
  expect((await make('12000 EUR')).stage).toBe('deal-weighty');
});

test('a gate asks the deal’s owner; the answer moves it, beside the rule’s, and is taken back', async () => {
  const [mill, brewery] = [await make('30000 EUR'), await make('30000 EUR', 'ada', 'Brewery')];
  const { rows } = await toDecide(ada);
  expect(rows).toMatchObject([
    { gate: 'send-offer', pick: 'deal-offer', record: { kind: 'deal', id: mill.id, stage: 'deal-weighty' } },
    { pick: 'deal-won', record: { kind: 'deal', id: brewery.id, company: `Firm ${firms}` } },
  ]);
  await decide(ada, rows[0]!.id, 'deal-won');
  expect(await dealOf(mill.id)).toMatchObject({ stage: 'deal-won', status: 'won' });
  expect(await server.source.manager.findOneBy(ProposalEntity, { record: mill.id })).toMatchObject({
    ...{ state: 'taken', answer: 'deal-won', rule: 'deal-offer', person: 'ada' },
  });
  const undone = (await ada.post('/api/proposals/undo').send({ ids: [rows[0]!.id] })).body as DoneEach;
  expect(undone.refused).toEqual([]);
  expect(await dealOf(mill.id)).toMatchObject({ stage: 'deal-weighty', status: 'open', closedAt: null });
  expect(await statesOf(mill.id)).toEqual(['open']);

  expect((await decide(ada, rows[1]!.id, null, 'not yet')).refused).toEqual([]);
  expect((await dealOf(brewery.id)).stage).toBe('deal-weighty');
  // It asks again only after it was false in between, and withdraws when it turns false.
  await edit(brewery, { 'deal.amount': '25000 EUR' });
  expect(await statesOf(brewery.id)).toEqual(['refused']);
  await edit(brewery, { 'deal.amount': '8000 EUR' });
  await edit(brewery, { 'deal.amount': '28000 EUR' });
  await edit(brewery, { 'deal.amount': '9000 EUR' });
  expect(await statesOf(brewery.id)).toEqual(['refused', 'withdrawn not-true']);
});

test('without an owner the team is asked, and sees the deal as long; a move by hand is the answer', async () => {
  const { id } = await make('30000 EUR', null);
  const [bo, dee] = [await server.as('bo'), await server.as('dee')];
  await dee.get(`/api/deals/${id}`).expect(404);
  const seen = (await bo.get(`/api/deals/${id}`).expect(200)).body as RecordDetail;
  expect(seen).toMatchObject({ may: { edit: false, decide: true }, proposals: [{ state: 'open' }] });
  expect((await bo.get('/api/proposal-count')).body).toEqual({ count: 1 });
  expect((await dee.get('/api/proposal-count')).body).toEqual({ count: 0 });
  await move(id, 'deal-lost', 'too dear');
  expect(await statesOf(id)).toEqual(['taken']);
  await bo.get(`/api/deals/${id}`).expect(404);
});

test('what is asked about a deal is no fault; an open question about a closed one is, and is mended', async () => {
  const [open, closed] = [await make('30000 EUR'), await make('30000 EUR')];
  expect(await examine(server.source, server.now, true)).toEqual([]);
  await server.source.query("UPDATE deal SET stage = 'deal-won', status = 'won' WHERE id = ?", [closed.id]);
  await examine(server.source, server.now, true);
  expect([await statesOf(open.id), await statesOf(closed.id)]).toEqual([['open'], ['withdrawn left-stage']]);
});

test('time lets a deal through while nobody does anything; a closed one stands still', async () => {
  const { id } = await make('30000 EUR');
  await decide(ada, (await toDecide(ada)).rows[0]!.id, 'deal-offer');
  const due = await dealOf(id);
  server.now = new Date(server.now.getTime() + 2 * DAY - 1);
  await tendUnrouted(server.source, server.now);
  expect((await dealOf(id)).stage).toBe('deal-offer');
  server.now = new Date(server.now.getTime() + 1);
  await tendUnrouted(server.source, server.now);
  expect(await dealOf(id)).toMatchObject({ stage: 'deal-lost', status: 'lost', closedAt: server.now, due: null });
  expect(due.due?.getTime()).toBe(server.now.getTime());
  admin = await server.as('admin');
  await edit({ id }, { 'deal.amount': '100 EUR' });
  expect((await dealOf(id)).stage).toBe('deal-lost');
});

/** Puts a changed charter in force, as far as said; the deals are looked at a moment later. */
async function enact(change: (charter: Charter) => Charter, reach: string): Promise<CharterState> {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'More' })).body as CharterState;
  const sent = { version: draft!.version, charter: change(draft!.charter) };
  const saved = (await admin.put(`/api/drafts/${draft!.id}`).send(sent).expect(200)).body as CharterState;
  await admin
    .post(`/api/drafts/${draft!.id}/enact`)
    .send({ version: saved.draft!.version, reason: 'so', reach, scope: { which: 'all' } })
    .expect(202);
  await tendUnrouted(server.source, server.now);
  return saved;
}

const fromLess = (charter: Charter): Charter => ({
  ...charter,
  gates: charter.gates.map((gate) =>
    gate.key === 'weighty'
      ? ({ ...gate, when: { ...gate.when, from: { at: '1000', included: true } } } as typeof gate)
      : gate,
  ),
});

test('enacting lets deals through as foretold where gates are run; else with what next happens to them', async () => {
  const ids: number[] = [];
  for (let i = 0; i < 12; i += 1) ids.push((await make(i % 3 === 0 ? `${1000 + i * 500} EUR` : '300 EUR')).id);
  const inForce = (await server.source.manager.findOneByOrFail(CharterEntity, { inForce: true })).body;
  await admin.post('/api/deals/desk').expect(200);
  const pair = { inForce, draft: fromLess(inForce) };
  const reading = { kind: 'on-enact', reach: 'gates', scope: { which: 'all' } };
  const question = { question: 'meeting', asks: { pair, reading } };
  const { answer } = (await admin.post('/api/deals/questions').send(question).expect(200)).body as {
    answer: { answer: Meeting };
  };
  expect(answer.answer).toMatchObject({ count: 4, chosen: 4 });
  expect(answer.answer.moves).toEqual([{ from: 'deal-open', to: 'deal-weighty', count: 4 }]);

  await enact(fromLess, 'score');
  const standing = async () => Promise.all(ids.map(async (id) => (await dealOf(id)).stage));
  expect((await standing()).filter((stage) => stage !== 'deal-open')).toEqual([]);
  // Not by the passing of time alone.
  server.now = new Date(server.now.getTime() + 30 * DAY);
  await tendUnrouted(server.source, server.now);
  expect((await standing()).filter((stage) => stage !== 'deal-open')).toEqual([]);
  admin = await server.as('admin');
  await edit({ id: ids[0]! }, { 'deal.amount': '1001 EUR' });
  expect((await standing())[0]).toBe('deal-weighty');
  await enact((charter) => ({ ...charter, name: 'Again' }), 'gates');
  expect((await standing()).map((stage) => stage === 'deal-weighty')).toEqual(ids.map((_, i) => i % 3 === 0));
});
