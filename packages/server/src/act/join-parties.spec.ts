import type { JoinPreview, LeadDetail, RecordDetail, RecordPage, RecordRow, SuggestionRow } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { examine } from '../doctor/examine';
import { SmallServer } from '../fixture/small-server.fixture';
import { tendUnrouted } from '../job/tend-unrouted';

/** The set for leads, and one for companies: a key account has 50 points, each click of its people 20. */
function withSet(charter: Charter): Charter {
  const [leads] = charter.scoreSets;
  const when = { test: 'one-of', subject: { kind: 'field', field: 'company.key_account' }, values: ['yes'] } as const;
  const key = {
    kind: 'attribute',
    key: 'is-key',
    name: 'Key',
    axis: 'fit',
    on: true,
    points: 50,
    group: null,
    when,
  } as const;
  const clicks = leads!.signals.find(({ kind }) => kind === 'activity')!;
  const signals = [key, { ...clicks, key: 'their-clicks' }];
  return { ...charter, scoreSets: [leads!, { ...leads!, key: 'firms', of: 'company', groups: [], signals }] };
}

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withSet);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (values: object): Promise<number> => {
  server.now = new Date(server.now.getTime() + 1000);
  return ((await admin.post('/api/leads').send({ values })).body as { id: number }).id;
};
const lead = async (id: number) => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const company = async (id: number) => (await admin.get(`/api/companies/${id}`)).body as RecordDetail;
const tend = () => tendUnrouted(server.source, server.now);
const edit = async (id: number, values: object) =>
  admin
    .patch(`/api/companies/${id}`)
    .send({ version: (await company(id)).version, values })
    .expect(200);
const list = async () =>
  ((await admin.get('/api/companies')).body as RecordPage).rows.map(({ id, name, fit, engagement, leads }) => [
    id,
    name,
    fit,
    engagement,
    leads,
  ]);

test('a suggested join is previewed, done and undone: leads, activities, deals, keys and values go along and come back', async () => {
  const first = await bring({ email: 'a@gmx.net', company: 'Fjord', country: 'NO', industry: 'Brewery' });
  const second = await bring({
    email: 'b@gmx.net',
    company: 'Fjord',
    country: 'SE',
    industry: 'Fish farm',
    employees: '80',
  });
  await admin
    .post(`/api/leads/${second}/activities`)
    .send({ kind: 'mail_clicked', at: server.now.toISOString() })
    .expect(201);
  await tend();
  const [older, younger] = [(await lead(first)).ties.company!.id, (await lead(second)).ties.company!.id];
  await edit(younger, { 'company.key_account': 'yes', 'company.tags': 'Pilot' });
  await edit(older, { 'company.tags': 'Fair' });
  const deal = ((await admin.post('/api/deals').send({ values: {}, company: younger })).body as RecordDetail).id;
  await tend();
  const before = await list();
  expect(before).toEqual([
    [younger, 'Fjord', 50, 20, 1],
    [older, 'Fjord', 0, 0, 1],
  ]);
  expect((await admin.get('/api/suggestions')).body as SuggestionRow[]).toMatchObject([
    { kind: 'company', older: { id: older }, younger: { id: younger } },
  ]);
  const preview = (await admin.get(`/api/companies/${younger}/join/${older}`)).body as JoinPreview<RecordRow>;
  expect([preview.older.id, preview.activities]).toEqual([older, 1]);
  expect(preview.fields).toContainEqual({
    field: 'company.industry',
    older: 'Brewery',
    younger: 'Fish farm',
    takesYounger: false,
  });
  expect(preview.fields).toContainEqual({ field: 'company.employees', older: null, younger: '80', takesYounger: true });

  await admin
    .post(`/api/companies/${younger}/join`)
    .send({ other: older, take: ['company.industry'] })
    .expect(200);
  await tend();
  expect(await list()).toEqual([[older, 'Fjord', 50, 20, 2]]);
  // The old address finds the new.
  const joined = await company(younger);
  expect([joined.id, joined.ofDeals.map(({ id }) => id), joined.ofLeads.map(({ id }) => id).sort()]).toEqual([
    older,
    [deal],
    [first, second],
  ]);
  const value = (field: string) => joined.values.find((one) => one.field === field)?.shown;
  expect([value('company.industry'), value('company.employees'), value('company.tags')]).toEqual([
    'Fish farm',
    '80',
    'Fair; Pilot',
  ]);
  expect((await lead(second)).ties.company?.id).toBe(older);
  expect((await admin.get('/api/suggestions')).body).toEqual([]);
  expect(await examine(server.source, server.now, false)).toEqual([]);

  await admin.delete(`/api/companies/${younger}/joined`).expect(200);
  await tend();
  expect(await list()).toEqual(before);
  expect((await lead(second)).ties.company?.id).toBe(younger);
  const again = await company(older);
  expect([again.ofDeals, again.values.find(({ field }) => field === 'company.tags')?.shown]).toEqual([[], 'Fair']);
  expect(await examine(server.source, server.now, false)).toEqual([]);
  await admin.delete(`/api/companies/${younger}/joined`).expect(404);
});

test('what a hand does under the address of one that was joined happens to the one that stays, and a deal is tied to that', async () => {
  const ids = [];
  for (const country of ['NO', 'SE', 'DK'])
    ids.push((await lead(await bring({ email: `${country}@gmx.net`, company: 'Elv', country }))).ties.company!.id);
  const [first = 0, second = 0, third = 0] = ids;
  const join = (one: number, other: number) =>
    admin.post(`/api/companies/${one}/join`).send({ other, take: [] }).expect(200);
  await join(second, third);
  const old = `/api/companies/${third}`;
  await admin.post(`${old}/owner`).send({ owner: 'ada' }).expect(200);
  await admin.post(`${old}/known-by`).send({ kind: 'name', text: 'Elvebryggeri' }).expect(200);
  const deal = await admin.post('/api/deals').send({ values: {}, company: third }).expect(201);
  const contact = await admin.post('/api/contacts').send({ values: { 'contact.name': 'Kari' }, company: third });
  const stays = await company(second);
  expect([stays.id, stays.owner, stays.knownBy.map(({ text }) => text)]).toEqual([
    second,
    'ada',
    expect.arrayContaining(['elvebryggeri']),
  ]);
  for (const { body } of [deal, contact]) expect((body as RecordDetail).ties.company?.id).toBe(second);
  await join(first, second);
  // Of two joins one after the other the later is taken apart first.
  const early = await admin.delete(`${old}/joined`);
  expect([early.status, (early.body as { type: string }).type]).toEqual([409, '/docs/errors.md#cannot-undo']);
  await admin.delete(`/api/companies/${second}/joined`).expect(200);
  await admin.delete(`${old}/joined`).expect(200);
  expect(await examine(server.source, server.now, false)).toEqual([]);
});

test('two opposite joins at once: one is done, the other is told', async () => {
  const ids = [];
  for (const country of ['NO', 'SE'])
    ids.push((await lead(await bring({ email: `${country}@gmx.net`, company: 'Elv', country }))).ties.company!.id);
  const [a = 0, b = 0] = ids;
  const join = (one: number, other: number) => admin.post(`/api/companies/${one}/join`).send({ other, take: [] });
  const answers = await Promise.all([join(a, b), join(b, a)]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  expect((await list()).map(([id]) => id)).toEqual([a]);
  expect((await join(a, a)).status).toBe(409);
});

test('contacts of one name at one company are suggested; joined, both addresses lead to one, and an inquiry of either comes under it', async () => {
  const one = await bring({ email: 'kari@fjord.example', name: 'Kari Nord', company: 'Fjord' });
  await bring({ email: 'k.nord@fjord.example', name: 'Kari Nord', company: 'Fjord' });
  await tend();
  const [suggested] = (await admin.get('/api/suggestions')).body as SuggestionRow[];
  expect(suggested).toMatchObject({ kind: 'contact', older: { id: (await lead(one)).ties.contact!.id } });
  const { older, younger } = suggested!;
  await admin.post(`/api/contacts/${older.id}/join`).send({ other: younger.id, take: [] }).expect(200);
  const third = await lead(await bring({ email: 'k.nord@fjord.example', name: 'Kari' }));
  expect(third.ties.contact?.id).toBe(older.id);
  await admin.delete(`/api/contacts/${younger.id}/joined`).expect(200);
  expect(((await admin.get(`/api/contacts/${younger.id}`)).body as RecordDetail).id).toBe(younger.id);
  const dee = await server.as('dee');
  await dee.post(`/api/contacts/${older.id}/join`).send({ other: younger.id, take: [] }).expect(404);
});
