import type { Accepted, LeadDetail, LeadPage, RecordDetail, TaskCounts, TaskPage, TaskRow } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../../fixture/small-server.fixture';
import { TaskEntity } from '../../store/entity/task.entity';

const HOUR = 3_600_000;
const CALL = { kind: 'task', title: 'Ring back', work: 'call', minutes: 240, working: true } as const;

/** Qualifying makes a call; the route to the north says hello; a deal on offer asks for a meeting. */
const withTasks = (charter: Charter): Charter => ({
  ...charter,
  gates: [
    ...charter.gates.map((gate) => (gate.key === 'qualify' ? { ...gate, effects: [CALL] } : gate)),
    {
      ...charter.gates[0]!,
      ...{ key: 'on-offer', name: 'On offer', from: 'deal-open', to: 'deal-offer' },
      when: { test: 'not', of: { test: 'blank', subject: { kind: 'field', field: 'deal.amount' } } },
      effects: [{ ...CALL, title: 'Show it', work: 'meeting' }],
    } as unknown as Charter['gates'][number],
  ],
  streams: charter.streams.map((stream) => ({
    ...stream,
    routes: stream.routes.map((route) =>
      route.key === 'north'
        ? { ...route, tasks: [{ title: 'Say hello', work: 'mail' as const, minutes: 30, working: false }] }
        : route,
    ),
  })),
});

let server: SmallServer;
let admin: Agent;
let ada: Agent;
let bo: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withTasks);
  [admin, ada, bo] = [await server.as('admin'), await server.as('ada'), await server.as('bo')];
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (more: object = {}, values: object = {}): Promise<number> => {
  const email = `p${(brought += 1)}@task.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'NO', ...values }, ...more };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const in24 = (): number => server.now.getTime() + 24 * HOUR;
const make = async (agent: Agent, record: number, more: object = {}): Promise<number> => {
  const sent = { record, title: 'Send the plan', due: in24(), ...more };
  return ((await agent.post('/api/tasks').send(sent).expect(201)).body as { id: number }).id;
};
const list = async (agent: Agent, query = ''): Promise<readonly TaskRow[]> =>
  ((await agent.get(`/api/tasks${query}`).expect(200)).body as TaskPage).rows;
const ofRecord = (id: number, more = ''): Promise<readonly TaskRow[]> => list(admin, `?record=${id}${more}`);
const task = (id: number): Promise<TaskEntity> => server.source.manager.findOneByOrFail(TaskEntity, { id });
const give = (id: number, to: string, key: string | null = null) =>
  admin
    .post('/api/leads/give')
    .send({ ids: [id], to: key === null ? 'rep' : to, key: key ?? to })
    .expect(200);
const lines = async (id: number): Promise<string[]> =>
  ((await admin.get(`/api/leads/${id}`)).body as LeadDetail).history
    .filter(({ field }) => field === 'task')
    .map(({ from, to, reason, cause }) =>
      [cause, from, to, reason].flatMap((part) => (typeof part === 'string' ? [part] : [])).join(' | '),
    )
    .reverse();

test('gates and routes make tasks once, for who gets the lead; they are listed by when they are due, and stand in its history', async () => {
  const id = await bring();
  const at = server.now.getTime();
  expect(await ofRecord(id)).toMatchObject([
    { title: 'Say hello', work: 'mail', owner: 'ada', due: at + HOUR / 2, rule: 'north', madeBy: '', may: true },
    {
      title: 'Ring back',
      work: 'call',
      owner: 'ada',
      due: at + 4 * HOUR,
      rule: 'qualify',
      record: { kind: 'lead', id },
    },
  ]);
  expect(await lines(id)).toEqual(['rule | Ring back', 'rule | Say hello']);
  const { version } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  await admin.patch(`/api/leads/${id}`).send({ version, values: { employees: 12 } });
  expect(await ofRecord(id)).toHaveLength(2);
});

test('a task is made, put off, given on, done with a result and followed by the next; whoever gets one from someone else is told', async () => {
  const id = await bring({ owner: 'ada' });
  const own = await make(ada, id);
  expect(await task(own)).toMatchObject({ owner: 'ada', work: 'other', version: 1, madeBy: 'Ada Lindqvist' });
  await ada
    .patch(`/api/tasks/${own}`)
    .send({ version: 1, due: in24() + HOUR })
    .expect(200);
  expect((await ada.patch(`/api/tasks/${own}`).send({ version: 1, title: 'x' })).body).toMatchObject({
    ...{ type: '/docs/errors.md#task-changed', status: 409 },
  });
  await ada.patch(`/api/tasks/${own}`).send({ version: 2, owner: 'bo' }).expect(200);
  await server.deliver();
  const { notices } = (await bo.get('/api/home')).body as { notices: unknown[] };
  expect(notices).toMatchObject([{ kind: 'task', record: { kind: 'lead', id } }]);

  const next = { title: 'Ask again', work: 'call', due: in24() + 48 * HOUR };
  const end = { version: 3, result: 'will think about it', next };
  const ended = (await bo.post(`/api/tasks/${own}/end`).send(end).expect(200)).body as { next: number };
  expect(await task(own)).toMatchObject({ state: 'done', endedBy: 'Bo Rask', result: 'will think about it' });
  expect(await task(ended.next)).toMatchObject({ state: 'open', owner: 'bo', title: 'Ask again', work: 'call' });
  expect((await bo.post(`/api/tasks/${own}/end`).send({ version: 4 })).body).toMatchObject({
    ...{ type: '/docs/errors.md#task-ended', status: 409 },
  });
  expect((await list(bo, '?state=ended')).map(({ title }) => title)).toEqual(['Send the plan']);
  await bo.post(`/api/tasks/${own}/reopen`).send({ version: 4 }).expect(200);
  expect(await task(own)).toMatchObject({ state: 'open', result: null, endedAt: null });
  const given = (await lines(id)).filter((line) => line.startsWith('hand'));
  expect(given).toEqual([
    'hand | Send the plan',
    'hand | Send the plan | given to Bo Rask',
    'hand | Send the plan | done | will think about it',
    'hand | Ask again',
    'hand | Send the plan | open again',
  ]);
});

test('open tasks move along with the owner, and wait without one; done ones and those of someone else stay', async () => {
  const id = await bring({ owner: 'ada' });
  const [own, done, boss] = [await make(ada, id), await make(ada, id), await make(admin, id, { owner: 'boss' })];
  await ada.post(`/api/tasks/${done}/end`).send({ version: 1 }).expect(200);
  const owners = async () => (await Promise.all([own, done, boss].map(task))).map(({ owner }) => owner);
  await give(id, 'dee');
  expect(await owners()).toEqual(['dee', 'ada', 'boss']);
  await give(id, 'queue', 'projects');
  expect(await owners()).toEqual([null, 'ada', 'boss']);
  // A queue is seen by those who pick up from it, with what waits to be done there.
  expect(await list(bo, '?whose=seen')).toContainEqual(expect.objectContaining({ id: own, owner: null }));
  expect(await list(await server.as('cai'), '?whose=seen')).toEqual([]);
  await bo.post(`/api/leads/${id}/pick-up`).expect(200);
  expect(await owners()).toEqual(['bo', 'ada', 'boss']);
});

test('closing cancels what is open, unless it is kept; a removed test lead takes its tasks along', async () => {
  const [closed, kept] = [await bring({ owner: 'ada' }), await bring({ owner: 'ada' })];
  const [one, two] = [await make(ada, closed), await make(ada, kept)];
  const lost = { outcome: 'lost', reason: 'no money' };
  await ada.post(`/api/leads/${closed}/close`).send(lost).expect(200);
  await ada
    .post(`/api/leads/${kept}/close`)
    .send({ ...lost, keepTasks: true })
    .expect(200);
  expect([(await task(one)).state, (await task(two)).state]).toEqual(['cancelled', 'open']);
  expect(await ofRecord(closed, '&state=ended')).toContainEqual(
    expect.objectContaining({ id: one, endedBy: '', state: 'cancelled' }),
  );
  const test = await bring({ owner: 'ada', test: true });
  const third = await make(ada, test);
  await admin.delete(`/api/leads/${test}/test`).expect(204);
  expect(await server.source.manager.findOneBy(TaskEntity, { id: third })).toBeNull();
});

test('a deal has tasks of gates and of hands; they follow its owner, and end with it', async () => {
  const company = await admin.post('/api/companies').send({ values: { 'company.name': 'Millworks' } });
  const values = { 'deal.name': 'Mill', 'deal.amount': '900 EUR' };
  const made = { company: (company.body as RecordDetail).id, owner: 'ada', values };
  const { id } = (await admin.post('/api/deals').send(made).expect(201)).body as RecordDetail;
  const own = await make(ada, id);
  expect(await ofRecord(id)).toMatchObject([
    {
      title: 'Show it',
      work: 'meeting',
      owner: 'ada',
      rule: 'on-offer',
      record: { kind: 'deal', name: 'Mill', beside: 'Millworks' },
    },
    { id: own },
  ]);
  await admin.post(`/api/deals/${id}/owner`).send({ owner: 'bo' }).expect(200);
  expect((await ofRecord(id)).map(({ owner }) => owner)).toEqual(['bo', 'bo']);
  const page = (await admin.get('/api/deals?columns=task')).body as { rows: { nextTask: number }[] };
  expect(page.rows).toMatchObject([{ nextTask: server.now.getTime() + 4 * HOUR }]);
  await bo.post(`/api/deals/${id}/stage`).send({ stage: 'deal-lost', reason: 'dear' }).expect(200);
  expect(await ofRecord(id)).toEqual([]);
});

test('an open task gives sight of its record, and no more than that; who sees a record only may not change its tasks', async () => {
  const id = await bring({ owner: 'ada' });
  const dee = await server.as('dee');
  expect((await dee.get(`/api/leads/${id}`)).status).toBe(404);
  expect((await dee.get(`/api/tasks?record=${id}`)).status).toBe(404);
  const call = await make(admin, id, { owner: 'dee', title: 'Ring them' });
  const seen = (await dee.get(`/api/leads/${id}`).expect(200)).body as LeadDetail;
  expect(Object.values(seen.may)).not.toContain(true);
  expect(((await dee.get('/api/leads')).body as LeadPage).rows.map((row) => row.id)).toEqual([id]);
  expect(await list(dee)).toMatchObject([{ id: call, may: true }]);
  // A task tells its holder of a record, not the holder's colleagues: only who directs them sees it too.
  const far = await bring({ owner: 'dee' });
  const there = await make(admin, far, { owner: 'ada', title: 'Look at the pump' });
  const seenBy = async (key: string) => (await list(await server.as(key), '?whose=seen')).map((one) => one.id);
  expect(await seenBy('ada')).toContain(there);
  expect(await seenBy('boss')).toContain(there);
  expect(await seenBy('bo')).not.toContain(there);

  const own = await make(ada, id);
  const answer = await dee.post(`/api/tasks/${own}/end`).send({ version: 1 });
  expect(answer.status).toBe(403);
  await dee.post(`/api/tasks/${call}/end`).send({ version: 1, result: 'rang' }).expect(200);
  expect((await dee.get(`/api/leads/${id}`)).status).toBe(404);
  // Bo sees Ada's leads, since they share a team: a task for her is one for the owner, and others stay outside it.
  expect((await bo.post('/api/tasks').send({ record: id, title: 'x', due: in24(), owner: 'dee' })).body).toMatchObject({
    errors: [{ path: '/owner', message: 'is not in your teams' }],
  });
});

test('what is overdue is counted, for a manager that of their people; wrong requests name the field', async () => {
  const id = await bring({ owner: 'ada' });
  await make(ada, id, { due: server.now.getTime() + 5 * HOUR });
  const counts = async (agent: Agent) => (await agent.get('/api/task-count')).body as TaskCounts;
  const due = async (agent: Agent) =>
    ((await agent.get('/api/home')).body as { attention: { what: string; count: number }[] }).attention.filter(
      ({ what }) => what === 'tasks-overdue',
    );
  // One more is of the gate.
  expect([await counts(ada), await due(ada)]).toEqual([{ open: 2, overdue: 0 }, []]);
  server.now = new Date(server.now.getTime() + 5 * HOUR + 1);
  expect(await counts(ada)).toEqual({ open: 2, overdue: 2 });
  const boss = await server.as('boss');
  for (const agent of [ada, boss, admin]) expect(await due(agent)).toMatchObject([{ count: 2 }]);
  expect([await due(bo), await list(boss, '?whose=seen&overdue=true')]).toMatchObject([
    [],
    [{ title: 'Ring back' }, { title: 'Send the plan' }],
  ]);
  const post = async (sent: object) => ((await ada.post('/api/tasks').send(sent)).body as { errors: unknown }).errors;
  expect(await post({ record: id, title: ' ', due: 1e15 })).toMatchObject([{ path: '/title' }, { path: '/due' }]);
  expect((await ada.post('/api/tasks').send({ record: 4_000_000, title: 'x', due: 1 })).status).toBe(404);
  for (const [mark, status] of [
    ['99999999999999 1', 200],
    ['9999999999999999 1', 422],
    ['yesterday', 422],
  ] as const)
    expect((await ada.get('/api/tasks').query({ after: mark })).status).toBe(status);
  expect((await ada.patch('/api/tasks/4000000').send({ version: 1 })).status).toBe(404);
});

test('a deputy has the tasks as well, and they come back; who retires leaves them to the heir', async () => {
  const [own, other] = [await bring({ owner: 'ada' }), await bring({ owner: 'dee' })];
  const [one, two] = [await make(ada, own), await make(admin, other, { owner: 'ada' })];
  const owners = async () => [(await task(one)).owner, (await task(two)).owner];
  const change = (to: object) =>
    admin
      .patch('/api/people/ada')
      .send({ mayTakeLeads: true, limit: null, whyNot: null, ...to })
      .expect(200);
  await change({ deputy: 'bo', away: true });
  expect(await owners()).toEqual(['bo', 'bo']);
  await change({ away: false });
  expect(await owners()).toEqual(['ada', 'ada']);
  const retire = { leads: { to: 'rep', key: 'ada' }, heir: 'ada' };
  const third = await make(admin, own, { owner: 'bo' });
  expect((await admin.post('/api/people/bo/retire').send(retire)).status).toBe(200);
  expect((await task(third)).owner).toBe('ada');
});

test('two leads that are joined have the tasks of both, and each its own again when they are taken apart', async () => {
  const older = await bring({ owner: 'ada' });
  server.now = new Date(server.now.getTime() + HOUR);
  const younger = await bring({ owner: 'ada' });
  const [one, two] = [await make(ada, older), await make(ada, younger)];
  await admin.post(`/api/leads/${older}/join`).send({ other: younger, take: [] }).expect(200);
  expect([(await task(one)).record, (await task(two)).record]).toEqual([older, older]);
  await admin.delete(`/api/joins/${younger}`).expect(200);
  expect([(await task(one)).record, (await task(two)).record]).toEqual([older, younger]);
});
