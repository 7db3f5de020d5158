import type { LeadDetail } from '@relvik/contracts';
import { BY_RULE, type RepKey, type StageKey } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { IntakeWriter } from '../intake/intake-writer';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { PersonEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string, values: object = {}, more: object = {}): Promise<number> => {
  server.now = new Date(server.now.getTime() + 60_000);
  const made = await admin
    .post('/api/leads')
    .send({ values: { email, industry: 'Brewery', country: 'NO', ...values }, ...more });
  expect([made.status, made.body]).toEqual([201, expect.anything()]);
  return (made.body as { id: number }).id;
};
const detail = async (id: number) => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const limit = (key: string, takes: number | null) => server.source.manager.update(PersonEntity, { key }, { takes });

test('every change names its cause: the hand, the way in, or the rule, with values that can be read back', async () => {
  const id = await bring('cause@a.example', { employees: 'about 50' });
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: 1, values: { employees: '50' } })
    .expect(200);
  const { history } = await detail(id);
  expect(history.find(({ field }) => field === 'employees')).toMatchObject({
    from: { kind: 'unreadable', raw: 'about 50' },
    to: { kind: 'number', scaled: 500_000 },
    cause: 'hand',
    by: 'Runa Admin',
    charter: null,
    rule: null,
  });
  expect(history.find(({ field }) => field === 'stage')).toMatchObject({
    from: 'new',
    to: 'qualified',
    cause: 'rule',
    by: '',
    charter: 1,
    rule: 'qualify',
  });
  expect(history.find(({ field, to }) => field === 'place' && (to as { kind: string }).kind === 'owner')).toMatchObject(
    {
      to: { kind: 'owner' },
      cause: 'rule',
      rule: 'north',
    },
  );
  await admin.post(`/api/leads/${id}/close`).send({ outcome: 'lost', reason: 'too dear' }).expect(200);
  expect((await detail(id)).history.find(({ field }) => field === 'status')).toMatchObject({
    from: 'open',
    to: 'lost',
    reason: 'too dear',
    cause: 'hand',
  });
});

test('an owner who is named must be able to take leads, and be inside a manager’s teams', async () => {
  const named = async (who: string, owner: string) =>
    (await (await server.as(who)).post('/api/leads').send({ values: { email: `${owner}@o.example` }, owner })).body as {
      errors?: { path: string; message: string }[];
    };
  expect((await named('admin', 'cai')).errors).toEqual([
    { path: '/owner', message: 'Cai Morgan may not take leads: has no seat' },
  ]);
  expect((await named('boss', 'dee')).errors).toEqual([{ path: '/owner', message: 'is not in your teams' }]);
  expect((await named('admin', 'nobody')).errors).toEqual([{ path: '/owner', message: 'is nobody here' }]);
  expect((await named('boss', 'bo')).errors).toBeUndefined();
  const report = await server.importFile(admin, 'email,owner\nrow1@o.example,Cai Morgan\nrow2@o.example,Bo Rask');
  expect(report).toMatchObject({ accepted: 1, refused: 1 });
  expect(report.notes).toMatchObject([
    { row: 1, field: 'owner', message: 'Cai Morgan may not take leads: has no seat', refused: true },
  ]);
  // Asked again where it is written: the request was checked before.
  const late = new IntakeWriter(server.source).accept({
    cause: { kind: 'csv', name: 'late.csv' },
    at: server.now,
    values: { email: 'late@o.example' },
    owner: 'cai' as RepKey,
    trusted: true,
  });
  await expect(late).rejects.toMatchObject({
    problem: { errors: [{ path: '/owner', message: 'Cai Morgan may not take leads' }] },
  });
});

test('a lead that an edit disqualifies frees its owner’s place, and who waits leaves the bay with the answer', async () => {
  await server.stop();
  server = await SmallServer.start((charter) => ({
    ...charter,
    gates: [
      ...charter.gates,
      {
        key: 'mill',
        name: 'Mill',
        from: 'qualified' as StageKey,
        to: 'out' as StageKey,
        on: true,
        when: { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Golf course'] },
        requiredFields: [],
        minDays: 0,
        minHours: 0,
        effects: [],
        decider: BY_RULE,
      },
    ],
  }));
  admin = await server.as('admin');
  await limit('ada', 1);
  await limit('bo', 0);
  const first = await bring('first@b.example');
  const waiting = await bring('waiting@b.example');
  const { manager } = server.source;
  const placeOf = async (id: number) => {
    const { place, owner, status } = await manager.findOneByOrFail(LeadEntity, { id });
    return [place, owner, status];
  };
  expect([await placeOf(first), await placeOf(waiting)]).toEqual([
    ['owner', 'ada', 'open'],
    ['bay', null, 'open'],
  ]);
  await admin
    .patch(`/api/leads/${first}`)
    .send({ version: 1, values: { industry: 'Golf course' } })
    .expect(200);
  expect([await placeOf(first), await placeOf(waiting)]).toEqual([
    ['owner', 'ada', 'disqualified'],
    ['owner', 'ada', 'open'],
  ]);
});

test('who comes in does not pass those who wait for the same route', async () => {
  await limit('ada', 0);
  await limit('bo', 0);
  const oldest = await bring('oldest@c.example');
  const older = await bring('older@c.example');
  // Nobody wakes the bay: the limit is raised behind the product's back, as by another server a moment ago.
  await limit('ada', 1);
  const newest = await bring('newest@c.example');
  const { manager } = server.source;
  const placeOf = async (id: number) => (await manager.findOneByOrFail(LeadEntity, { id })).place;
  expect([await placeOf(oldest), await placeOf(older), await placeOf(newest)]).toEqual(['owner', 'bay', 'bay']);
});

test('rights are those at the moment of acting: a lead handed on meanwhile can’t be closed by who had it', async () => {
  const id = await bring('handed@d.example', {}, { owner: 'ada' });
  await admin.post(`/api/leads/${id}/assign`).send({ rep: 'dee' }).expect(200);
  const ada = await server.as('ada');
  await ada.post(`/api/leads/${id}/close`).send({ outcome: 'won', reason: 'x' }).expect(404);
  expect(await server.source.manager.findOneByOrFail(LeadEntity, { id })).toMatchObject({
    owner: 'dee',
    status: 'open',
  });
});

test('effects stand in the outbox with what caused them, and a hand tells the new owner', async () => {
  const id = await bring('told@e.example', {}, { owner: 'ada' });
  await admin.post(`/api/leads/${id}/assign`).send({ rep: 'dee' }).expect(200);
  const rows = await server.source.manager.find(OutboxEntity, { where: { record: id }, order: { id: 'ASC' } });
  expect(rows.map(({ kind, body, state }) => [kind, body.notice, body.person, state])).toEqual([
    ['notice', 'assigned', 'dee', 'waiting'],
  ]);
  await server.deliver();
  await server.deliver();
  expect((await (await server.as('dee')).get('/api/home')).body).toMatchObject({
    notices: [{ kind: 'assigned', record: { kind: 'lead', id } }],
  });
});

test('a lead made as a test joins nobody, and is removed without a trace in lists, counts, loads and turns', async () => {
  await bring('known@t.example');
  const state = async () => ({
    count: (await admin.get('/api/lead-count').query({ status: 'any' })).body as object,
    loads: await server.source.query<object[]>('SELECT * FROM rep_load WHERE open > 0 ORDER BY rep'),
    turns: await server.source.query<object[]>('SELECT * FROM rota ORDER BY route'),
  });
  const before = await state();
  const id = await bring('known@t.example', {}, { test: true });
  expect(await detail(id)).toMatchObject({ test: true, place: { kind: 'owner' }, may: { remove: true } });
  expect(await state()).not.toEqual(before);
  await admin.delete(`/api/leads/${id}/test`).expect(204);
  expect(await state()).toEqual(before);
  await admin.get(`/api/leads/${id}`).expect(404);

  // Somebody was served since: the turn stays where it is, so that nobody gets two in a row.
  const test = await bring('other@t.example', {}, { test: true });
  await bring('served@t.example');
  const { turns } = await state();
  await admin.delete(`/api/leads/${test}/test`).expect(204);
  expect((await state()).turns).toEqual(turns);
  const real = await bring('real@t.example');
  await admin.delete(`/api/leads/${real}/test`).expect(403);
});
