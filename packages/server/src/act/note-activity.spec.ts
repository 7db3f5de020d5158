import type { ActivityOutcome, RecordDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { withKeyAccountGate } from '../fixture/key-account-gate.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { tendUnrouted } from '../job/tend-unrouted';
import { DecisionEntity } from '../store/entity/history.entity';
import { followTies } from '../job/tie-changes';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withKeyAccountGate);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const make = async (path: string, body: object): Promise<number> =>
  ((await admin.post(path).send(body).expect(201)).body as { id: number }).id;
const record = async (path: string) => (await admin.get(path)).body as RecordDetail;
const happened = async (path: string) =>
  (await record(path)).activities.map(({ kind, record: of }) => [kind, of?.name ?? 'itself']);

test('a call noted on a contact counts for it and its company, and is an occasion for its open leads', async () => {
  const company = await make('/api/companies', { values: { 'company.name': 'Fjord' } });
  const values = { 'contact.name': 'Ann', 'contact.email': 'ann@fjord.example' };
  const contact = await make('/api/contacts', { values, company });
  const lead = await make('/api/leads', { values: { email: 'ann@fjord.example', company: 'Fjord', country: 'DE' } });
  await tendUnrouted(server.source, server.now);
  const before = await server.source.manager.countBy(DecisionEntity, { record: lead });
  const noted = await admin
    .post(`/api/contacts/${contact}/activities`)
    .send({ kind: 'call_taken', properties: { about: 'ten buoys' } });
  expect([noted.status, (noted.body as RecordDetail).activities]).toMatchObject([
    201,
    [{ kind: 'call_taken', at: server.now.getTime(), properties: { about: 'ten buoys' }, record: null }],
  ]);
  expect(await happened(`/api/companies/${company}`)).toEqual([['call_taken', 'Ann']]);
  expect(await tendUnrouted(server.source, server.now)).toBe(2);
  expect(await followTies(server.source, server.now)).toBe(1);
  expect(await server.source.manager.countBy(DecisionEntity, { record: lead })).toBeGreaterThanOrEqual(before);
});

test('a meeting noted on a deal counts for its company; kinds and instants that can’t be are named, and nothing is kept', async () => {
  const company = await make('/api/companies', { values: { 'company.name': 'Fjord' } });
  const deal = await make('/api/deals', { values: {}, company });
  const note = (body: object) => admin.post(`/api/deals/${deal}/activities`).send(body);
  expect((await note({ kind: 'danced' })).body).toMatchObject({ status: 422, errors: [{ path: '/kind' }] });
  expect((await note({ kind: 'call_taken', at: '2027-01-01T00:00:00Z' })).body).toMatchObject({
    errors: [{ path: '/at', message: 'lies in the future' }],
  });
  expect(await happened(`/api/deals/${deal}`)).toEqual([]);
  await note({ kind: 'event_attended' }).expect(201);
  expect(await happened(`/api/companies/${company}`)).toEqual([['event_attended', 'Fjord']]);
  // Who doesn't see it finds nothing there.
  const other = await server.as('dee');
  await other.post(`/api/deals/${deal}/activities`).send({ kind: 'call_taken' }).expect(404);
});

test('another system tells by e-mail what a contact did who has no lead; the same event counts once', async () => {
  const contact = await make('/api/contacts', { values: { 'contact.email': 'Bea@fjord.example' } });
  const { secret } = (await admin.post('/api/intake/keys').send({ name: 'Site', fields: ['email'] })).body as {
    secret: string;
  };
  const send = async (...activities: object[]) =>
    (await server.anyone.post('/api/intake/activities').set('Authorization', `Bearer ${secret}`).send({ activities }))
      .body as ActivityOutcome;
  const visit = { kind: 'page_visited', email: 'bea@fjord.example', event: 'e1' };
  expect(await send(visit, { ...visit, email: 'nobody@fjord.example' })).toEqual({
    accepted: 1,
    repeated: 0,
    refused: [{ row: 2, field: 'email', message: 'is of no lead or contact here: send it first' }],
  });
  expect(await send(visit)).toMatchObject({ accepted: 0, repeated: 1 });
  expect(await happened(`/api/contacts/${contact}`)).toEqual([['page_visited', 'itself']]);
});
