import type { Accepted, Home, LeadDetail, MadeKey } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { DecisionEntity } from '../store/entity/history.entity';

let server: SmallServer;
let admin: Agent;
let secret: string;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const made = await admin
    .post('/api/intake/keys')
    .send({ name: 'fair', fields: ['name', 'email', 'industry', 'country', 'employees', 'deal_value', 'note'] });
  secret = (made.body as MadeKey).secret;
});
afterEach(() => server.stop());

const send = (values: unknown, headers: Record<string, string> = {}) =>
  server.anyone
    .post('/api/intake/leads')
    .set({ Authorization: `Bearer ${secret}`, ...headers })
    .send({ values });
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });

test('a lead that is answered is on disk, decided, with turns and loads moved on', async () => {
  const owners: (string | null)[] = [];
  for (const n of [1, 2, 3, 4]) {
    const answer = await send({ email: `turn${n}@a.example`, industry: 'Brewery', country: 'NO' });
    expect(answer.status).toBe(201);
    const { owner, stage, fitBand, engagementBand } = await leadOf((answer.body as Accepted).id);
    expect([stage, fitBand, engagementBand]).toEqual(['qualified', 'b', 'quiet']);
    owners.push(owner);
  }
  expect(owners).toEqual(['ada', 'bo', 'ada', 'bo']);
  expect(await server.source.query('SELECT rep, open FROM rep_load WHERE open > 0 ORDER BY rep')).toEqual([
    { rep: 'ada', open: 2 },
    { rep: 'bo', open: 2 },
  ]);
});

test('an inquiry with the e-mail of an open lead joins it and stays with its owner; after it is closed it is a new one', async () => {
  const first = (await send({ email: 'again@a.example', name: 'Kari Igjen', industry: 'Brewery', country: 'NO' }))
    .body as Accepted;
  const { owner } = await leadOf(first.id);
  const second = (await send({ email: 'AGAIN@a.example ', employees: '60', name: '' })).body as Accepted;
  expect(second).toMatchObject({ id: first.id, joined: true });
  expect(await leadOf(first.id)).toMatchObject({ owner, name: 'Kari Igjen', fit: 100, version: 2 });
  await admin.post(`/api/leads/${first.id}/close`).send({ outcome: 'won', reason: 'signed' }).expect(200);
  expect(((await send({ email: 'again@a.example' })).body as Accepted).joined).toBe(false);
});

test('many at once: each accepted exactly once, turns exact, the same e-mail only one lead', async () => {
  const answers = await Promise.all(
    Array.from({ length: 60 }, (_, i) =>
      send({ email: `many${i % 50}@b.example`, industry: 'Fish farm', country: 'SE' }),
    ),
  );
  expect(answers.map((answer) => answer.status)).toEqual(Array(60).fill(201));
  const accepted = answers.map((answer) => answer.body as Accepted);
  expect(new Set(accepted.map(({ id }) => id)).size).toBe(50);
  expect(accepted.filter(({ joined }) => joined)).toHaveLength(10);
  // Ada may carry two, so Bo takes all the others.
  const carried = (owner: string) => server.source.manager.countBy(LeadEntity, { owner, status: 'open' });
  expect([await carried('ada'), await carried('bo')]).toEqual([2, 48]);
});

test('two servers on one database: turns and loads stay exact, an e-mail has one lead', async () => {
  const other = (await import('./intake-writer')).IntakeWriter;
  const writers = [new other(server.source), new other(server.source)];
  const inquiry = (i: number) => ({
    cause: { kind: 'api' as const, name: 'test' },
    at: server.now,
    values: { email: `both${i % 40}@c.example`, industry: 'Brewery', country: 'NO' },
    owner: null,
    trusted: true,
  });
  const accepted = await Promise.all(
    Array.from({ length: 80 }, (_, i) => (writers[i % 2] as InstanceType<typeof other>).accept(inquiry(i))),
  );
  expect(new Set(accepted.map(({ id }) => id)).size).toBe(40);
  const [{ wrong }] = await server.source.query<[{ wrong: string }]>(
    `SELECT COUNT(*) AS wrong FROM rep_load LEFT JOIN (SELECT owner, COUNT(*) AS n FROM lead WHERE status = 'open' GROUP BY owner) held ON held.owner = rep WHERE open <> COALESCE(n, 0)`,
  );
  expect(Number(wrong)).toBe(0);
});

test('a repeated request finds the first answer; another body under its key is refused', async () => {
  const lead = { email: 'once@d.example', industry: 'Brewery' };
  const answers = await Promise.all([send(lead, { 'Idempotency-Key': 'k1' }), send(lead, { 'Idempotency-Key': 'k1' })]);
  const third = await send(lead, { 'Idempotency-Key': 'k1' });
  expect(new Set([...answers, third].map((answer) => JSON.stringify(answer.body))).size).toBe(1);
  expect(third.body).toMatchObject({ joined: false });
  expect(await server.source.manager.countBy(DecisionEntity, { record: (third.body as Accepted).id })).toBe(1);
  expect((await send({ ...lead, name: 'other' }, { 'Idempotency-Key': 'k1' })).body).toMatchObject({ status: 422 });
});

test('what can’t be read is kept and named; what is broken is refused with the field; nothing is doubled or lost', async () => {
  const odd = await send({ email: 'odd@e.example', employees: 'about 50', country: 'Atlantis', note: 'x' });
  expect(odd.body).toMatchObject({
    warnings: [
      { field: 'country', raw: 'Atlantis' },
      { field: 'employees', raw: 'about 50' },
      { field: 'note', raw: 'x' },
    ],
  });
  expect(await leadOf((odd.body as Accepted).id)).toMatchObject({
    place: 'bay',
    bay: { why: 'unjudged', fields: ['employees'] },
  });

  const count = await server.source.manager.count(LeadEntity);
  const errors = async (values: unknown, headers?: Record<string, string>) =>
    (await send(values, headers)).body as { status: number; errors?: { path: string }[] };
  expect(await errors({ email: 'x@e.example', shoe_size: 44 })).toMatchObject({
    status: 422,
    errors: [{ path: '/values/shoe_size' }],
  });
  expect(await errors({ email: 'x@e.example', company: 'not listed on the key' })).toMatchObject({
    status: 422,
    errors: [{ path: '/values/company' }],
  });
  expect(await errors({ industry: 'Brewery' })).toMatchObject({ status: 422, errors: [{ path: '/values/email' }] });
  expect(await errors({ email: ['list'] })).toMatchObject({ status: 422, errors: [{ path: '/values/email' }] });
  expect(await errors('text')).toMatchObject({ status: 422, errors: [{ path: '/values' }] });
  expect(await errors({ email: 'x@e.example' }, { Authorization: 'Bearer rk_wrong' })).toMatchObject({ status: 401 });
  const raw = (body: string) =>
    server.anyone
      .post('/api/intake/leads')
      .set({ Authorization: `Bearer ${secret}`, 'Content-Type': 'application/json' })
      .send(body);
  expect((await raw('{"values":')).body).toMatchObject({ status: 400, title: 'The body is not JSON' });
  const large = await raw(JSON.stringify({ values: { note: 'x'.repeat(2_000_000) } }));
  expect([large.status, large.type]).toEqual([413, 'application/problem+json']);
  expect(await server.source.manager.count(LeadEntity)).toBe(count);
});

test('a hosted form: asks again about what can’t be read, takes a page once, never from who fills the hidden field', async () => {
  const page = async () => ((await server.anyone.get('/api/forms/ask')).body as { token: string }).token;
  const post = (body: object) => server.anyone.post('/api/forms/ask').send(body);
  const token = await page();
  const values = { email: 'visitor@i.example', employees: 'some' };
  expect((await post({ token, values })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/values/employees', message: 'is not a number' }],
  });
  expect((await post({ token, values: { name: 'No Mail' } })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/values/email', message: 'please fill this in' }],
  });
  expect((await post({ token, values: { ...values, owner: 'ada' } })).body).toMatchObject({ status: 422 });
  const twice = await Promise.all([post({ token, values, anyway: true }), post({ token, values, anyway: true })]);
  expect(twice.map((answer) => answer.status)).toEqual([201, 201]);
  expect(await server.source.manager.countBy(LeadEntity, { email: 'visitor@i.example' })).toBe(1);
  expect((await post({ token: await page(), values: { email: 'robot@i.example' }, website: 'spam' })).status).toBe(201);
  expect(await server.source.manager.countBy(LeadEntity, { email: 'robot@i.example' })).toBe(0);
  expect((await post({ token: 'made-up', values })).body).toMatchObject({ status: 409 });
});

test('looking at a form writes nothing, and its token is good for its own form, for a day', async () => {
  const tables = await server.source.query<{ name: string }[]>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'",
  );
  const rows = async () => {
    const counts = tables.map(({ name }) => `(SELECT COUNT(*) FROM \`${name}\`)`);
    return (await server.source.query<{ n: string }[]>(`SELECT ${counts.join(' + ')} AS n`))[0]?.n;
  };
  const before = await rows();
  const { token } = (await server.anyone.get('/api/forms/ask')).body as { token: string };
  expect(await rows()).toBe(before);
  const sendWith = (sent: string) =>
    server.anyone.post('/api/forms/ask').send({ token: sent, values: { email: 'day@k.example' } });
  expect((await sendWith(token.replace('ask', 'Ask'))).status).toBe(409);
  const now = server.now;
  server.now = new Date(now.getTime() + 86_400_001);
  expect((await sendWith(token)).status).toBe(409);
  server.now = now;
  expect((await sendWith(token)).status).toBe(201);
});

test('a form fills blanks only: what differs stands beside, the owner is told, and takes it over or leaves it', async () => {
  const { id } = (await send({ email: 'kari@j.example', name: 'Kari', industry: 'Brewery', employees: '80' }))
    .body as Accepted;
  await server.source.manager.update(LeadEntity, id, { place: 'owner', owner: 'bo', bay: null, queue: null });
  const fill = async (values: object) => {
    const { token } = (await server.anyone.get('/api/forms/ask')).body as { token: string };
    await server.anyone.post('/api/forms/ask').send({ token, values, anyway: true }).expect(201);
  };
  await fill({ email: 'kari@j.example', name: 'Mallory', employees: '1', country: 'NO' });
  const bo = await server.as('bo');
  const read = async () => (await bo.get(`/api/leads/${id}`)).body as LeadDetail;
  const valueOf = ({ values }: LeadDetail, field: string) => values.find((one) => one.field === field)?.shown;
  const after = await read();
  expect(['name', 'employees', 'country'].map((field) => valueOf(after, field))).toEqual(['Kari', '80', 'NO']);
  expect(after.said).toMatchObject([
    { field: 'employees', shown: '1', unreadable: null, way: 'form', by: 'ask' },
    { field: 'name', shown: 'Mallory' },
  ]);
  await server.deliver();
  expect(((await bo.get('/api/home')).body as Home).notices[0]).toMatchObject({
    kind: 'said',
    record: { kind: 'lead', id },
  });
  const admin = await server.as('admin');
  expect((await admin.get('/api/said')).body).toMatchObject([
    { lead: id, field: 'employees', known: '80' },
    { lead: id, field: 'name', known: 'Kari', name: 'Kari' },
  ]);

  const settle = (field: string, take: boolean) => bo.post(`/api/leads/${id}/said`).send({ field, take });
  expect(valueOf((await settle('employees', true)).body as LeadDetail, 'employees')).toBe('1');
  expect((await settle('name', false)).body).toMatchObject({ name: 'Kari', said: [] });
  await settle('name', true).expect(404);
  // Trusted by the admin, the same form replaces what is known.
  await admin.patch('/api/intake/forms/ask').send({ trusted: true }).expect(204);
  await fill({ email: 'kari@j.example', name: 'Kari Nord' });
  expect(valueOf(await read(), 'name')).toBe('Kari Nord');
});

test('an answer that can’t be read never replaces a good one, from a trusted way in either, and is named', async () => {
  const { id } = (await send({ email: 'odd@j.example', industry: 'Brewery', employees: '80' })).body as Accepted;
  const again = (await send({ email: 'odd@j.example', employees: 'about ninety', industry: 'Fish farm' }))
    .body as Accepted;
  expect(again).toMatchObject({ id, joined: true, warnings: [{ field: 'employees', raw: 'about ninety' }] });
  expect(await leadOf(id)).toMatchObject({ fit: 100 });
  const admin = await server.as('admin');
  const detail = async () => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  expect((await detail()).said).toMatchObject([
    { field: 'employees', shown: 'about ninety', unreadable: 'is not a number' },
  ]);
  // What is said well settles it.
  await send({ email: 'odd@j.example', employees: '90' });
  expect((await detail()).said).toEqual([]);
});
