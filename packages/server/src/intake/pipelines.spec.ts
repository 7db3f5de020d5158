import type { Accepted, LeadDetail, RecordDetail } from '@relvik/contracts';
import type { StageKey } from '@relvik/core';
import type { Agent } from 'supertest';
import { CHECKS } from '../doctor/checks';
import { SmallServer } from '../fixture/small-server.fixture';
import { withCarePlans } from '../fixture/two-pipelines.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withCarePlans);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (pipeline?: string, more: object = {}): Promise<Accepted> => {
  const values = { email: 'ann@fjord.example', company: 'Fjord', industry: 'Brewery', ...more };
  return (await admin.post('/api/leads').send({ values, pipeline }).expect(201)).body as Accepted;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });

/** The ids that a check of the doctor finds. */
async function faults(key: string): Promise<number[]> {
  const { sql } = CHECKS.find((check) => check.key === key)!;
  return (await server.source.query<{ id: number }[]>(sql)).map(({ id }) => id);
}

test('the way in names the pipeline; a person has one open lead in each, and a second inquiry is added to it', async () => {
  const [first, second] = [await bring(), await bring('care')];
  expect([first.joined, second.joined]).toEqual([false, false]);
  expect(await lead(first.id)).toMatchObject({ stage: 'new', pipeline: 'leads', cameInto: null });
  expect(await lead(second.id)).toMatchObject({ stage: 'care-new', pipeline: 'care', cameInto: 'care' });
  expect(await bring('care')).toMatchObject({ id: second.id, joined: true });
  expect(await bring('leads')).toMatchObject({ id: first.id, joined: true });
  expect(await bring()).toMatchObject({ id: first.id, joined: true });
  expect([await faults('two-open'), await faults('open-for')]).toEqual([[], []]);

  const unknown = await admin.post('/api/leads').send({ values: { email: 'b@fjord.example' }, pipeline: 'deals' });
  expect(unknown.body).toMatchObject({ status: 422, errors: [{ path: '/pipeline' }] });
});

test('many inquiries of a person at once, into both pipelines, leave one open lead in each', async () => {
  await Promise.all(Array.from({ length: 12 }, (_, i) => bring(i % 2 === 0 ? 'care' : undefined)));
  const leads = await server.source.manager.find(LeadEntity, { order: { pipeline: 'ASC' } });
  expect(leads.map(({ pipeline, openFor, contact }) => [pipeline, openFor === contact])).toEqual([
    ['care', true],
    ['leads', true],
  ]);
});

test('a file names the pipeline of each lead by key or name; a key sends into one; other names are refused', async () => {
  const rows = [
    'E-mail,pipeline',
    'a@fjord.example,Care plans',
    'b@fjord.example,care',
    'c@fjord.example,',
    'd@fjord.example,Deals',
  ];
  const report = await server.importFile(admin, rows.join('\n'));
  expect(report).toMatchObject({ accepted: 3, refused: 1, notes: [{ row: 4, field: 'pipeline' }] });
  const leads = await server.source.manager.find(LeadEntity, { order: { email: 'ASC' } });
  expect(leads.map(({ stage }) => stage)).toEqual(['care-new', 'care-new', 'new']);

  const { secret } = (await admin.post('/api/intake/keys').send({ name: 'Shop', fields: ['email'] })).body as {
    secret: string;
  };
  const send = (pipeline: string) =>
    server.anyone
      .post('/api/intake/leads')
      .set('Authorization', `Bearer ${secret}`)
      .send({ values: { email: 'e@fjord.example' }, pipeline });
  const { id } = (await send('care')).body as Accepted;
  expect((await lead(id)).pipeline).toBe('care');
  expect((await send('none')).body).toMatchObject({ status: 422, errors: [{ path: '/pipeline' }] });
});

test('a form and a key send into the pipeline that the admin chose for them; where that is no more, into the first', async () => {
  const { id: key, secret } = (await admin.post('/api/intake/keys').send({ name: 'Shop', fields: ['email'] })).body as {
    id: number;
    secret: string;
  };
  const sent = async (email: string, more: object = {}): Promise<string> => {
    const answer = await server.anyone
      .post('/api/intake/leads')
      .set('Authorization', `Bearer ${secret}`)
      .send({ values: { email }, ...more });
    return (await lead((answer.body as Accepted).id)).pipeline;
  };
  const filled = async (email: string): Promise<string> => {
    const { token } = (await server.anyone.get('/api/forms/ask')).body as { token: string };
    await server.anyone.post('/api/forms/ask').send({ token, values: { email } }).expect(201);
    return (await server.source.manager.findOneByOrFail(LeadEntity, { email })).pipeline;
  };
  expect([await sent('a@w.example'), await filled('b@w.example')]).toEqual(['leads', 'leads']);
  for (const way of [`keys/${key}`, 'forms/ask']) {
    await admin.patch(`/api/intake/${way}`).send({ pipeline: 'care' }).expect(204);
    const refused = await admin.patch(`/api/intake/${way}`).send({ pipeline: 'deals' });
    expect(refused.body).toMatchObject({ status: 422, errors: [{ path: '/pipeline' }] });
    await admin.patch(`/api/intake/${way}`).send({}).expect(422);
  }
  expect([await sent('c@w.example'), await filled('d@w.example')]).toEqual(['care', 'care']);
  // A pipeline named in the request comes first; the person has an open lead in each then.
  expect(await sent('c@w.example', { pipeline: 'leads' })).toBe('leads');
  expect((await admin.get('/api/intake')).body).toMatchObject({
    forms: [{ pipeline: 'care' }],
    keys: [{ pipeline: 'care', trusted: true }],
  });
  await server.source.query("UPDATE form SET pipeline = 'gone'");
  expect(await filled('e@w.example')).toBe('leads');
});

test('a gate leads into another pipeline, but not while the person has an open lead there: it lets through once that is closed', async () => {
  const [there, moving] = [await bring('care'), await bring()];
  const { ties } = (await admin.get(`/api/leads/${moving.id}`)).body as LeadDetail;
  const company = `/api/companies/${ties.company!.id}`;
  const { version: stored } = (await admin.get(company)).body as { version: number };
  await admin
    .patch(company)
    .send({ version: stored, values: { 'company.key_account': 'yes' } })
    .expect(200);
  const edit = async (employees: string): Promise<LeadEntity> => {
    const { version } = await lead(moving.id);
    await admin.patch(`/api/leads/${moving.id}`).send({ version, values: { employees } }).expect(200);
    return lead(moving.id);
  };
  const held = { stage: 'new', pipeline: 'leads', openFor: ties.contact!.id };
  expect([await edit('12'), await edit('13')]).toMatchObject([held, held]);
  expect([await faults('two-open'), await faults('open-for')]).toEqual([[], []]);

  await admin.post(`/api/leads/${there.id}/close`).send({ outcome: 'lost', reason: 'no need' }).expect(200);
  expect(await edit('14')).toMatchObject({ stage: 'care-talks', pipeline: 'care', cameInto: null });
  expect(await bring('care')).toMatchObject({ id: moving.id, joined: true });
  // An inquiry into the first pipeline is a lead of its own again.
  expect(await lead((await bring()).id)).toMatchObject({ stage: 'new', pipeline: 'leads' });
});

test('a deal is made in the pipeline that is named, and goes on into another by hand', async () => {
  const company = (
    (await admin.post('/api/companies').send({ values: { 'company.name': 'Gale' } })).body as { id: number }
  ).id;
  const make = (pipeline: string) => admin.post('/api/deals').send({ values: {}, company, pipeline });
  const { id } = (await make('service').expect(201)).body as { id: number };
  const stage = async () => ((await admin.get(`/api/deals/${id}`)).body as RecordDetail).stage;
  expect(await stage()).toBe('service-open');
  await admin.post(`/api/deals/${id}/stage`).send({ stage: 'deal-open' }).expect(200);
  expect(await stage()).toBe('deal-open');
  expect((await make('care')).body).toMatchObject({ status: 422, errors: [{ path: '/pipeline' }] });
  const contact = await admin.post('/api/contacts').send({ values: { 'contact.name': 'Ann' }, pipeline: 'service' });
  expect(contact.body).toMatchObject({ status: 422, errors: [{ path: '/pipeline' }] });
});

test('a lead that leaves the bay is kept out of a pipeline in which the person has an open lead', async () => {
  await server.stop();
  server = await SmallServer.start((charter) => {
    const two = withCarePlans(charter);
    return { ...two, streams: two.streams.map((one) => ({ ...one, entering: ['new' as StageKey] })) };
  });
  // Nothing is decided by itself: the gate’s condition becomes true while the lead waits.
  server.background.idle = true;
  admin = await server.as('admin');
  const limit = (key: string, most: number) =>
    admin.patch(`/api/people/${key}`).send({ mayTakeLeads: true, whyNot: null, limit: most }).expect(200);
  for (const key of ['ada', 'bo']) await limit(key, 0);
  const [there, waiting] = [await bring('care'), await bring(undefined, { country: 'NO' })];
  expect(await lead(waiting.id)).toMatchObject({ place: 'bay' });
  const { ties } = (await admin.get(`/api/leads/${waiting.id}`)).body as LeadDetail;
  const company = `/api/companies/${ties.company!.id}`;
  const { version } = (await admin.get(company)).body as { version: number };
  await admin
    .patch(company)
    .send({ version, values: { 'company.key_account': 'yes' } })
    .expect(200);
  // Not by the page, which would let the bay leave at once.
  await server.source.manager.update(PersonEntity, { key: 'bo' }, { takes: 5 });
  // Somebody else comes for the same route, and those who wait for it go first.
  await bring(undefined, { email: 'bea@gale.example', company: 'Gale', country: 'NO' });
  expect(await lead(waiting.id)).toMatchObject({ stage: 'new', pipeline: 'leads', owner: 'bo' });
  expect(await lead(there.id)).toMatchObject({ openFor: ties.contact!.id });
  expect(await faults('two-open')).toEqual([]);
});
