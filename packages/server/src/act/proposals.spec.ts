import type {
  Accepted,
  DoneEach,
  GateConcordance,
  LeadDetail,
  LeadPage,
  ProposalDetail,
  ProposalPage,
} from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { says, WHICH, withAskingGates } from '../fixture/asking-gates.fixture';
import { finishRescores } from '../job/rescore';
import { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { passTime } from '../job/pass-time';
import { type Charter, mergeStage, type StageKey } from '@relvik/core';

let server: SmallServer;
let admin: Agent;
let ada: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withAskingGates);
  [admin, ada] = [await server.as('admin'), await server.as('ada')];
});
afterEach(() => server.stop());

let people = 0;
/** A lead that the gate asks about, unless something else is said of it. */
const bring = async (more: object = {}, owner: string | null = 'ada'): Promise<number> => {
  const values = { email: `p${(people += 1)}@ask.example`, country: 'NO', ...more };
  return ((await admin.post('/api/leads').send({ values, owner }).expect(201)).body as Accepted).id;
};
const edit = async (id: number, values: object): Promise<void> => {
  const { version } = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  await admin.patch(`/api/leads/${id}`).send({ version, values }).expect(200);
};
const toDecide = async (agent: Agent, query = ''): Promise<ProposalPage> =>
  (await agent.get(`/api/proposals${query}`).expect(200)).body as ProposalPage;
const decide = async (agent: Agent, id: number, answer: string | null, reason?: string): Promise<DoneEach> =>
  (await agent.post('/api/proposals/decide').send({ decisions: [{ id, answer }], reason })).body as DoneEach;
const statesOf = async (record: number): Promise<string[]> =>
  (await server.source.manager.find(ProposalEntity, { where: { record }, order: { id: 'ASC' } })).map(
    ({ state, why }) => (why === null ? state : `${state} ${why}`),
  );
const stageOf = async (id: number): Promise<string> =>
  (await server.source.manager.findOneByOrFail(LeadEntity, { id })).stage;
const detail = async (id: number): Promise<LeadDetail> => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const only = async (agent: Agent) => (await toDecide(agent)).rows[0]!;

test('a gate asks a lead’s owner, with the rule’s pick and why; the outcomes it has; and what happened since', async () => {
  const [plain, brewery] = [await bring(), await bring({ industry: 'Brewery' })];
  expect(await toDecide(ada)).toMatchObject({ count: 2, gates: [{ gate: 'which', count: 2 }] });
  const { rows } = await toDecide(ada);
  expect(rows.map(({ record, pick }) => [record.id, pick])).toEqual([
    [plain, 'trial'],
    [brewery, 'plan'],
  ]);
  expect(rows[0]?.why).toContain('Norway');
  expect(rows[0]?.outcomes.map(({ to }) => to)).toEqual(['trial', 'plan']);
  expect((await toDecide(await server.as('bo'))).count).toBe(0);
  expect((await (await server.as('bo')).get('/api/proposal-count')).body).toEqual({ count: 0 });

  server.now = new Date(server.now.getTime() + 3_600_000);
  await edit(plain, { note: '1' });
  const since = (await ada.get(`/api/proposals/${rows[0]!.id}`)).body as ProposalDetail;
  expect(since.changes.map(({ field }) => field)).toEqual(['note']);
  await server.deliver();
  expect(
    (await server.source.query<{ person: string }[]>("SELECT person FROM notice WHERE kind = 'asked'")).length,
  ).toBe(2);
});

test('it asks at the rising edge, withdraws when it turns false, and asks again', async () => {
  const id = await bring();
  await edit(id, { note: '1' });
  expect(await statesOf(id)).toEqual(['open']);
  await edit(id, { country: 'SE' });
  await edit(id, { country: 'NO' });
  expect(await statesOf(id)).toEqual(['withdrawn not-true', 'open']);
  // A gate by rule below it holds on: the lead leaves the stage, and nobody is asked.
  await edit(id, { employees: '999' });
  expect([await stageOf(id), await statesOf(id)]).toEqual([
    'qualified',
    ['withdrawn not-true', 'withdrawn left-stage'],
  ]);
  const other = await bring();
  await admin.post(`/api/leads/${other}/close`).send({ outcome: 'lost', reason: 'gone' }).expect(200);
  expect(await statesOf(other)).toEqual(['withdrawn closed']);
});

test('a gate asks once a required field is filled, as when an amount is added later; one that passes by rule is not asked about', async () => {
  const id = await bring();
  await decide(ada, (await only(ada)).id, 'plan');
  expect([await stageOf(id), await statesOf(id)]).toEqual(['plan', ['taken']]);
  await edit(id, { note: '3' });
  expect(await statesOf(id)).toEqual(['taken']);
  await edit(id, { deal_value: '12000 EUR' });
  expect(await statesOf(id)).toEqual(['taken', 'open']);
  expect(await only(ada)).toMatchObject({ gate: 'sized', pick: 'qualified' });
  expect(await statesOf(await bring({ employees: '999' }))).toEqual([]);
});

test('a list and its file tell the pipeline, which gates ask, and what each lead waits for', async () => {
  const [asked, waiting] = [await bring({ company: 'Asked AS' }), await bring({ company: 'Waiting AS' })];
  await decide(ada, (await toDecide(ada)).rows.find((row) => row.record.id === waiting)!.id, 'plan');
  const query = 'columns=company,pipeline,asks,waits&order=oldest';
  const { rows } = (await ada.get(`/api/leads?${query}`).expect(200)).body as LeadPage;
  expect(rows.map(({ id, pipeline, asks, waits }) => [id, pipeline, asks, waits.map(({ gate }) => gate)])).toEqual([
    [asked, 'leads', ['which'], []],
    [waiting, 'leads', [], ['sized']],
  ]);
  expect(rows[1]?.waits[0]?.words).toMatch(/^Deal value is blank/);
  const { text } = await ada.get(`/api/leads.csv?${query}`).expect(200);
  const [head, first, second] = text.trim().split('\r\n');
  expect(head).toBe('Id,Lead,Company,Pipeline,Asked about,Waits for');
  expect(first).toBe(`${asked},,Asked AS,Leads,which,`);
  expect(second).toMatch(new RegExp(`^${waiting},,Waiting AS,Leads,,"?sized: Deal value is blank`));
  // Nobody who did not choose them pays for them.
  const plain = (await ada.get('/api/leads?columns=company').expect(200)).body as LeadPage;
  expect(plain.rows.map(({ asks, waits }) => [asks, waits])).toEqual([
    [[], []],
    [[], []],
  ]);
});

test('taking the pick, another outcome and refusing: each once, with the rule’s answer beside; the next gates act', async () => {
  const [first, second, third] = [await bring({ note: '7' }), await bring({ industry: 'Brewery' }), await bring()];
  const { rows } = await toDecide(ada);
  const idOf = (lead: number): number => rows.find((row) => row.record.id === lead)!.id;
  expect(await decide(ada, idOf(first), 'trial')).toEqual({ done: [idOf(first)], refused: [] });
  // The stage was entered as by rule: its gate, true already, led on.
  expect(await stageOf(first)).toBe('qualified');
  await decide(ada, idOf(second), 'trial');
  expect(await stageOf(second)).toBe('trial');
  // There its person sees it otherwise than the rule: a gate that holds already does not move it on.
  const fourth = await bring({ industry: 'Brewery', note: '7' });
  await decide(ada, (await toDecide(ada)).rows.find((row) => row.record.id === fourth)!.id, 'trial');
  expect(await stageOf(fourth)).toBe('trial');
  const without = await ada.post('/api/proposals/decide').send({ decisions: [{ id: idOf(third), answer: null }] });
  expect(without.body).toMatchObject({ status: 422 });
  await decide(ada, idOf(third), null, 'too small');
  expect([await stageOf(third), await statesOf(third)]).toEqual(['new', ['refused']]);
  expect((await detail(second)).proposals).toMatchObject([
    { state: 'taken', pick: 'plan', rule: 'plan', answer: 'trial' },
  ]);
  expect((await detail(second)).history).toContainEqual(
    expect.objectContaining({ field: 'stage', from: 'new', to: 'trial', cause: 'hand', rule: 'which' }),
  );
  // Refused is refused, until the gate was false in between.
  await edit(third, { note: '2' });
  expect(await statesOf(third)).toEqual(['refused']);

  const found = (await admin.get('/api/concordance?gate=which')).body as GateConcordance;
  expect(found).toMatchObject({
    ...{ rule: ['trial', 'plan'], person: ['trial', null] },
    counts: [
      [1, 2],
      [1, 0],
    ],
    same: { share: 1 / 4, of: 4 },
    byPerson: [{ of: 'Ada Lindqvist', same: 1, all: 4 }],
  });
  expect((await ada.get('/api/concordance?gate=which')).status).toBe(403);
});

test('of two who decide at once one wins, and the other is told; nobody else may decide', async () => {
  const id = await bring();
  const { id: proposal } = await only(ada);
  const answers = await Promise.all([decide(ada, proposal, 'trial'), decide(admin, proposal, 'plan')]);
  expect(answers.map(({ done }) => done.length).sort()).toEqual([0, 1]);
  expect(answers.flatMap(({ refused }) => refused)).toMatchObject([
    { id: proposal, why: expect.stringContaining('settled') as string },
  ]);
  expect(['trial', 'plan']).toContain(await stageOf(id));
  expect((await detail(id)).history.filter(({ field }) => field === 'stage').length).toBe(1);

  await bring();
  const open = await only(admin);
  expect((await decide(await server.as('dee'), open.id, 'trial')).done).toEqual([]);
  expect((await decide(ada, open.id, 'qualified')).refused).toMatchObject([{ why: 'is no outcome of this gate' }]);
  expect((await decide(ada, 999_999, 'trial')).refused).toHaveLength(1);
});

test('without an owner the team named is asked: its members see the lead, and lose sight of it with the answer', async () => {
  const id = await bring({}, null);
  const bo = await server.as('bo');
  const dee = await server.as('dee');
  const { rows } = await toDecide(bo);
  expect(rows.map(({ record }) => record.id)).toEqual([id]);
  await bo.get(`/api/leads/${id}`).expect(200);
  await dee.get(`/api/leads/${id}`).expect(404);
  expect((await toDecide(dee)).count).toBe(0);
  await decide(bo, rows[0]!.id, 'trial');
  await bo.get(`/api/leads/${id}`).expect(404);
  expect((await decide(ada, rows[0]!.id, 'trial')).refused).toMatchObject([
    { why: expect.stringContaining('settled') as string },
  ]);
  // Whoever decided may still take it back.
  expect((await bo.post('/api/proposals/undo').send({ ids: [rows[0]!.id] })).body).toMatchObject({
    done: [rows[0]!.id],
  });
  expect([await stageOf(id), await statesOf(id)]).toEqual(['new', ['open']]);
});

test('a decision is taken back: the lead stands where it stood, since when it stood, and the proposal is open again', async () => {
  const id = await bring({ industry: 'Brewery' });
  const { id: proposal } = await only(ada);
  const { stageSince } = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  const undo = async () => (await ada.post('/api/proposals/undo').send({ ids: [proposal] })).body as DoneEach;
  expect((await undo()).refused).toMatchObject([{ why: expect.stringContaining('undone') as string }]);
  server.now = new Date(server.now.getTime() + 60_000);
  await decide(ada, proposal, 'plan');
  expect(await undo()).toEqual({ done: [proposal], refused: [] });
  const lead = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  expect([lead.stage, lead.stageSince]).toEqual(['new', stageSince]);
  expect(await only(ada)).toMatchObject({ id: proposal, pick: 'plan' });
  await decide(ada, proposal, null, 'not yet');
  expect(await undo()).toMatchObject({ done: [proposal] });
  await decide(ada, proposal, 'trial');
  await edit(id, { note: '7' });
  // It went on since.
  expect((await undo()).refused).toHaveLength(1);
  expect(await statesOf(id)).toEqual(['taken']);
});

/** Puts a changed charter in force, for new leads only. */
const enact = async (how: (charter: Charter) => Charter): Promise<void> => {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Next' })).body as {
    draft: { id: number; version: number; charter: Charter };
  };
  const saved = await admin
    .put(`/api/drafts/${draft.id}`)
    .send({ version: draft.version, charter: how(draft.charter) })
    .expect(200);
  const { version } = (saved.body as { draft: { version: number } }).draft;
  await admin
    .post(`/api/drafts/${draft.id}/enact`)
    .send({ version, reason: 'x', scope: { which: 'new' } })
    .expect(202);
  await finishRescores(server.source, () => server.now);
};

test('a charter that comes into force withdraws what none of its gates asks, whatever records it is applied to', async () => {
  const id = await bring();
  await enact((charter) => ({ ...charter, name: 'Renamed' }));
  expect(await statesOf(id)).toEqual(['open']);
  await enact((charter) => ({ ...charter, gates: charter.gates.filter(({ key }) => key !== 'which') }));
  expect(await statesOf(id)).toEqual(['withdrawn gate-gone']);
  expect((await toDecide(ada)).count).toBe(0);
  // The gate comes back with another condition: it asks when something happens.
  await enact((charter) => ({
    ...charter,
    gates: [{ ...WHICH, when: says('country', 'NO', 'SE') }, ...charter.gates],
  }));
  await edit(id, { note: '3' });
  expect(await statesOf(id)).toEqual(['withdrawn gate-gone', 'open']);
  await passTime(server.source, server.now);
  expect(await statesOf(id)).toEqual(['withdrawn gate-gone', 'open']);
});

test('a stage that is retired while a proposal leads there: it leads to what takes it over, and so do those that wait in it', async () => {
  const [asked, waiting] = [await bring(), await bring()];
  const { rows } = await toDecide(ada);
  await decide(ada, rows.find(({ record }) => record.id === waiting)!.id, 'trial');
  await enact((charter) => mergeStage(charter, 'trial', 'plan'));
  expect([await stageOf(asked), await stageOf(waiting)]).toEqual(['new', 'plan']);
  const open = await only(ada);
  expect([open.record.id, open.pick, open.outcomes.map(({ to }) => to)]).toEqual([asked, 'plan', ['plan']]);
  expect(await decide(ada, open.id, 'trial')).toMatchObject({ refused: [{ why: 'is no outcome of this gate' }] });
  await decide(ada, open.id, 'plan');
  expect(await stageOf(asked)).toBe('plan');
});

test('a gate that reads the company is judged with the company’s value when its proposal is decided and when a hand moves along it', async () => {
  await enact((charter) => ({
    ...charter,
    gates: charter.gates.map((one) =>
      ['which', 'alone'].includes(one.key) ? { ...one, when: says('company.key_account', 'yes') } : one,
    ),
  }));
  const id = await bring({ company: 'Fjord', note: '7' });
  const { ties } = await detail(id);
  const company = ties.company!.id;
  const { version } = (await admin.get(`/api/companies/${company}`)).body as { version: number };
  await admin
    .patch(`/api/companies/${company}`)
    .send({ version, values: { 'company.key_account': 'yes' } })
    .expect(200);
  await edit(id, { employees: '12' });
  const open = await only(ada);
  expect(open).toMatchObject({ gate: 'which', pick: 'trial' });
  expect((await detail(id)).moves).toContainEqual({ stage: 'plan', needsReason: false });
  // Taken as the rule's pick: the next gate acts.
  await decide(ada, open.id, 'trial');
  expect((await detail(id)).proposals).toMatchObject([{ answer: 'trial', rule: 'trial' }]);
  expect(await stageOf(id)).toBe('qualified');
  await admin.post('/api/leads/move').send({ ids: [id], stage: 'new', reason: 'once more' });
  const along = await ada.post('/api/leads/move').send({ ids: [id], stage: 'plan' });
  expect(along.body).toEqual({ done: [id], refused: [] });
});

test('a decision can’t be taken back into a stage that is no more, but into the one that took it over', async () => {
  const id = await bring();
  const { id: proposal } = await only(ada);
  await decide(ada, proposal, 'trial');
  await enact((charter) => mergeStage(charter, 'new', 'plan'));
  const undone = (await ada.post('/api/proposals/undo').send({ ids: [proposal] })).body as DoneEach;
  expect(undone.done).toEqual([proposal]);
  expect([await stageOf(id), await statesOf(id)]).toEqual(['plan', ['withdrawn not-true']]);
});

describe('by hand', () => {
  const move = async (agent: Agent, ids: number[], stage: string, reason?: string): Promise<DoneEach> =>
    (await agent.post('/api/leads/move').send({ ids, stage, reason })).body as DoneEach;

  test('a lead is moved to any open stage of its pipeline: along a gate that holds without a reason, else with one', async () => {
    const id = await bring({ country: 'SE', note: '7' });
    expect((await detail(id)).moves).toEqual([
      { stage: 'qualified', needsReason: true },
      { stage: 'trial', needsReason: true },
      { stage: 'plan', needsReason: false },
    ]);
    expect((await move(ada, [id], 'trial')).refused).toMatchObject([
      { id, why: expect.stringContaining('say why') as string },
    ]);
    expect(await move(ada, [id], 'trial', 'they asked for it')).toEqual({ done: [id], refused: [] });
    // The gate of the stage holds already: a rule does not undo a hand.
    await edit(id, { employees: '12' });
    expect(await stageOf(id)).toBe('trial');
    await edit(id, { note: '4' });
    await edit(id, { note: '7' });
    expect(await stageOf(id)).toBe('qualified');
    expect((await detail(id)).history).toContainEqual(
      expect.objectContaining({ field: 'stage', to: 'trial', cause: 'hand', reason: 'they asked for it', rule: null }),
    );
  });

  test('moved back while the gate still holds, it stays; what a gate asked is settled by the move, beside the rule’s pick', async () => {
    const id = await bring();
    expect(await move(ada, [id], 'plan', 'knows what they want')).toMatchObject({ done: [id] });
    expect((await detail(id)).proposals).toMatchObject([
      { state: 'taken', answer: 'plan', rule: 'trial', by: 'Ada Lindqvist' },
    ]);
    await move(ada, [id], 'new', 'after all not');
    await edit(id, { note: '1' });
    expect([await stageOf(id), await statesOf(id)]).toEqual(['new', ['taken']]);
  });

  test('several at once: who may not is told why, and stays', async () => {
    const [mine, others] = [await bring(), await bring({}, 'bo')];
    const moved = await move(ada, [mine, others, 123_456], 'plan', 'a fair');
    expect(moved.done).toEqual([mine]);
    expect(moved.refused.map(({ id }) => id)).toEqual([others, 123_456]);
    expect((await admin.post('/api/leads/move').send({ ids: [mine], stage: 'nowhere' })).status).toBe(422);
    const closing = await move(admin, [others], 'out', 'no');
    expect(closing.refused).toMatchObject([{ why: expect.stringContaining('a hand may move it to') as string }]);
  });
});

test('whoever leaves one reason to wait for another moves and is asked about all the same', async () => {
  await server.stop();
  const worth = { kind: 'field', field: 'deal_value' } as const;
  server = await SmallServer.start((charter) => {
    const asking = withAskingGates(charter);
    const byRule = { ...WHICH, key: 'worth', to: 'trial', decider: { kind: 'rule' } } as Charter['gates'][number];
    const when = { test: 'range', subject: worth, from: { at: '1', included: true }, to: null } as const;
    const stream = { ...asking.streams[0]!, entering: ['trial'] as unknown as readonly StageKey[] };
    const route = { ...stream.routes[0]!, when: { test: 'all', of: [] }, to: { kind: 'rep', rep: 'ada' } } as const;
    return {
      ...asking,
      gates: [{ ...byRule, when }, { ...WHICH, from: 'trial', to: 'plan' } as unknown as Charter['gates'][number]],
      streams: [{ ...stream, routes: [route as unknown as (typeof stream.routes)[number]] }],
    };
  });
  admin = await server.as('admin');
  await admin.patch('/api/people/ada').send({ mayTakeLeads: true, whyNot: null, limit: 0 }).expect(200);
  const id = await bring({ deal_value: '5000 ISK' }, null);
  expect([await stageOf(id), await statesOf(id)]).toEqual(['new', []]);
  await admin.post('/api/rates').send({ currency: 'ISK', from: '2026-01-01', rate: '0.0068' }).expect(201);
  expect([await stageOf(id), await statesOf(id)]).toEqual(['trial', ['open']]);
  expect(await server.source.manager.findOneByOrFail(LeadEntity, { id })).toMatchObject({
    bay: { why: 'nobody-free' },
  });
  await passTime(server.source, new Date(server.now.getTime() + 60_000));
  expect(await server.source.query('SELECT * FROM failure')).toEqual([]);
  expect(await statesOf(id)).toEqual(['open']);
});
