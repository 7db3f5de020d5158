import type { Accepted, LeadDetail, RecordDetail } from '@relvik/contracts';
import { type Charter, cycleOf, ENOUGH_WON } from '@relvik/core';
import fc from 'fast-check';
import { median } from 'simple-statistics';
import type { Agent } from 'supertest';
import { examine } from '../doctor/examine';
import { SmallServer } from '../fixture/small-server.fixture';
import { DealEntity } from '../store/entity/deal.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { RepLoadEntity } from '../store/entity/people.entity';

const DAY = 86_400_000;

/** The gate into Qualified makes a deal, expected to close in 30 days, or in the usual time. */
const withDeals = (charter: Charter): Charter => ({
  ...charter,
  gates: charter.gates.map((gate) =>
    gate.key === 'qualify'
      ? { ...gate, effects: [{ kind: 'deal', stage: 'deal-open' as never, days: 30, measured: true }] }
      : gate,
  ),
});

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withDeals);
  admin = await server.as('admin');
  await server.source.query("UPDATE field SET role = 'amount' WHERE `key` = 'deal_value'");
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (values: object = {}, more: object = {}): Promise<number> => {
  const email = `p${(brought += 1)}@deal.example`;
  const sent = {
    values: { email, industry: 'Brewery', country: 'NO', company: `Firm ${brought}`, ...values },
    ...more,
  };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const leadOf = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const dealsOf = (lead: number): Promise<DealEntity[]> =>
  server.source.manager.find(DealEntity, { where: { lead }, order: { id: 'ASC' } });
const detail = async (id: number) => (await admin.get(`/api/deals/${id}`).expect(200)).body as RecordDetail;
const shown = ({ values }: RecordDetail, field: string) => values.find((one) => one.field === field)?.shown;
const move = (id: number, stage: string, reason?: string) =>
  admin.post(`/api/deals/${id}/stage`).send({ stage, reason }).expect(200);
const make = async (lead: number): Promise<number> =>
  ((await admin.post('/api/deals').send({ values: {}, lead }).expect(201)).body as RecordDetail).id;
const openOf = async (rep: string) => (await server.source.manager.findOneBy(RepLoadEntity, { rep }))?.open ?? 0;
const sound = async () => {
  expect(await examine(server.source, server.now, false)).toEqual([]);
};

test('a gate makes a deal of a lead, once: with its owner, ties and amount, named after the company, and an expected close', async () => {
  const id = await bring({ deal_value: '9000 EUR' });
  const [deal, ...others] = await dealsOf(id);
  expect(others).toEqual([]);
  const lead = await leadOf(id);
  expect(deal).toMatchObject({
    ...{ stage: 'deal-open', status: 'open', owner: 'ada', contact: lead.contact, company: lead.companyId },
  });
  const page = await detail(deal!.id);
  expect([shown(page, 'deal.amount'), shown(page, 'deal.close')]).toEqual(['9000 EUR', '2026-04-01']);
  expect(page.name).toBe(`Firm ${brought}`);
  expect(page.history.find(({ field }) => field === 'made')).toMatchObject({
    cause: 'rule',
    rule: 'qualify',
    charter: 1,
  });
  expect(lead.openDeals).toBe(1);
  // The gate lets it through once more after it was false in between: there is an open deal already.
  await server.source.query("UPDATE `lead` SET stage = 'new', looks = '{}' WHERE id = ?", [id]);
  const { version } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version, values: { employees: 60 } })
    .expect(200);
  expect([(await leadOf(id)).stage, (await dealsOf(id)).length]).toEqual(['qualified', 1]);
  // A hand may make more.
  await make(id);
  expect((await leadOf(id)).openDeals).toBe(2);
  const { history } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  const ofDeals = history.filter(({ field }) => field === 'deal').map(({ cause, to }) => [cause, to]);
  expect(ofDeals).toEqual([
    ['hand', `Firm ${brought}`],
    ['rule', `Firm ${brought}`],
  ]);
  await sound();
});

test('amounts are carried over in their own decimals; what has no currency stays as it was written, and a test leaves nothing behind', async () => {
  const amounts = { JPY: '250000 JPY', KWD: '1200.125 KWD', none: '5000' };
  for (const [, amount] of Object.entries(amounts)) {
    const [deal] = await dealsOf(await bring({ deal_value: amount }));
    expect(shown(await detail(deal!.id), 'deal.amount')).toBe(amount);
  }
  expect(await dealsOf(await bring({}, { test: true }))).toEqual([]);
  await sound();
});

test('of two deals one is won and one lost: the lead is won; with none open and none won it is lost; a deal that opens again opens it', async () => {
  const id = await bring();
  const [first] = await dealsOf(id);
  const second = await make(id);
  expect(await openOf('ada')).toBe(1);
  await move(first!.id, 'deal-lost', 'dear');
  expect((await leadOf(id)).status).toBe('open');
  await move(second, 'deal-won');
  expect(await leadOf(id)).toMatchObject({
    ...{ status: 'won', closeReason: `its deal “Firm ${brought}” was won`, openDeals: 0, openFor: null },
  });
  expect(await openOf('ada')).toBe(0);
  // The sale falls through: none was won, and none is open.
  await move(second, 'deal-lost', 'took it back');
  expect((await leadOf(id)).status).toBe('lost');
  await move(second, 'deal-open');
  const lead = await leadOf(id);
  expect(lead).toMatchObject({
    status: 'open',
    closedAt: null,
    closeReason: null,
    openDeals: 1,
    openFor: lead.contact,
  });
  expect(await openOf('ada')).toBe(1);
  const { history } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  expect(history.filter(({ field }) => field === 'status').map(({ to, by }) => [to, by])).toEqual([
    ['open', 'Runa Admin'],
    ['lost', 'Runa Admin'],
    ['won', 'Runa Admin'],
  ]);
  await sound();
});

test('a lead stays closed where another of the same person is open by then, and where it was disqualified', async () => {
  const id = await bring({ email: 'same@deal.example' });
  const [deal] = await dealsOf(id);
  await move(deal!.id, 'deal-lost', 'dear');
  expect((await leadOf(id)).status).toBe('lost');
  await bring({ email: 'same@deal.example' });
  await move(deal!.id, 'deal-open');
  expect((await leadOf(id)).status).toBe('lost');

  const other = await bring();
  const [own] = await dealsOf(other);
  await admin.post(`/api/leads/${other}/close`).send({ outcome: 'disqualified', reason: 'no water' }).expect(200);
  await move(own!.id, 'deal-won');
  expect((await leadOf(other)).status).toBe('disqualified');
  await sound();
});

test('with 19 won deals the days of the gate count, with 20 what they took: the median', async () => {
  const won = async (days: number) => {
    const at = server.now;
    const [deal] = await dealsOf(await bring());
    await move(deal!.id, 'deal-won');
    await server.source.query('UPDATE deal SET arrived = ? WHERE id = ?', [
      new Date(at.getTime() - days * DAY),
      deal!.id,
    ]);
  };
  await server.source.query('UPDATE person SET takes = NULL');
  for (let i = 1; i <= 19; i += 1) await won(i * 10);
  const close = async () => shown(await detail((await dealsOf(await bring()))[0]!.id), 'deal.close');
  expect(await close()).toBe('2026-04-01');
  await won(200);
  // Of 10, 20, … 200 days the median is 105: 2 March and 105 days.
  expect(await close()).toBe('2026-06-15');
});

test('a deal moves to the older of two leads that are joined, and back', async () => {
  const [older, younger] = [await bring(), await bring()];
  const [own] = await dealsOf(younger);
  await admin.post(`/api/leads/${older}/join`).send({ other: younger, take: [] }).expect(200);
  expect([(await dealsOf(older)).length, (await leadOf(older)).openDeals]).toEqual([2, 2]);
  await sound();
  await admin.delete(`/api/joins/${younger}`).expect(200);
  expect([(await dealsOf(younger)).map(({ id }) => id), (await leadOf(older)).openDeals]).toEqual([[own!.id], 1]);
  await sound();
});

test('the usual time is the median of the library simple-statistics, and needs twenty won deals', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 900, noNaN: true }), { maxLength: 60 }), (taken) => {
      const days = taken.length < ENOUGH_WON ? null : Math.round(median(taken));
      expect(cycleOf(taken)).toEqual({ days, won: taken.length });
    }),
  );
});
