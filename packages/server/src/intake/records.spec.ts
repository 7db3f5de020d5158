import type { AcceptedRecord, ImportReport, RecordDetail, RecordPage } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { importFiles } from '../job/import-files';
import { tendUnrouted } from '../job/tend-unrouted';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const take = (kind: RecordKind, ...rows: string[]) => server.importFile(admin, rows.join('\r\n'), kind);
const rows = async (path: string) => ((await admin.get(path)).body as RecordPage).rows;
const names = async (path: string) => (await rows(path)).map(({ name }) => name).sort();
const record = async (path: string, id: number) => (await admin.get(`${path}/${id}`)).body as RecordDetail;
const shown = ({ values }: RecordDetail, field: string) => values.find((one) => one.field === field)?.shown;
const idOf = async (path: string, name: string) => (await rows(path)).find((one) => one.name === name)!.id;
const later = (): Date => (server.now = new Date(server.now.getTime() + 60_000));

test('companies, their contacts and deals come by file; known ones get the values of the row, each deal is its own', async () => {
  const companies = await take(
    'company',
    'Name,industry,employees',
    'Fjord,Brewery,40',
    'Gale,Golf course,many',
    ',Brewery,1',
  );
  expect(companies).toMatchObject({ kind: 'company', accepted: 2, joined: 0, refused: 1 });
  expect(companies.notes).toMatchObject([
    { row: 2, field: 'company.employees', refused: false },
    { row: 3, field: 'company.name', message: 'a company needs a name', refused: true },
  ]);
  const contacts = await take(
    'contact',
    'Name,email,company,owner',
    'Ann,ann@fjord.example,Fjord,Ada Lindqvist',
    'Bea,,Heron,',
    'Bea,,HERON,',
    'Cy,no mail,n/a,',
    'Ann B,ANN@fjord.example,,',
  );
  expect(contacts).toMatchObject({ accepted: 5, joined: 2, refused: 0 });
  expect(await names('/api/companies')).toEqual(['Fjord', 'Gale', 'Heron']);
  expect(await names('/api/contacts')).toEqual(['Ann B', 'Bea', 'Cy']);
  const deals = await take(
    'deal',
    'Name,company,contact,stage',
    'Ten buoys,Fjord,,won',
    'Ten buoys,fjord,ann@fjord.example,',
    'Lone,,,',
    'Nets,Fjord,,Nowhere',
    'Ropes,,dot@new.example,',
  );
  expect(deals).toMatchObject({ accepted: 3, refused: 2 });
  expect(deals.notes.map(({ row, field }) => [row, field])).toEqual([
    [3, 'company'],
    [4, 'stage'],
  ]);
  const fjord = await record('/api/companies', await idOf('/api/companies', 'Fjord'));
  expect(fjord.ofDeals.map(({ status }) => status).sort()).toEqual(['open', 'won']);
  expect(fjord.ofContacts.map(({ name }) => name)).toEqual(['Ann B']);
  const ropes = (await rows('/api/deals')).find(({ name }) => name === 'Ropes');
  expect(shown(await record('/api/contacts', ropes!.ties.contact!.id), 'contact.email')).toBe('dot@new.example');
});

test('a deal that names a contact alone is of that contact’s company; words that name no company, and no e-mail, are refused', async () => {
  await take('contact', 'Name,email,company', 'Ann,ann@gmx.net,Fjord');
  expect(await take('deal', 'Name,contact', 'Buoys,ann@gmx.net', 'Nets,not an address')).toMatchObject({
    accepted: 1,
    refused: 1,
    notes: [{ row: 2, field: 'contact' }],
  });
  expect((await rows('/api/deals')).map(({ ties }) => ties.company?.name)).toEqual(['Fjord']);
  const none = await take('company', 'Name', 'N/A', 'Gale');
  expect(none).toMatchObject({ accepted: 1, notes: [{ row: 1, message: 'is a word that names no company' }] });
  expect(await names('/api/companies')).toEqual(['Fjord', 'Gale']);
});

test('what a hand set stays against a file; a file stands against older leads, and gives way to what they say later', async () => {
  const bring = (industry: string) =>
    admin.post('/api/leads').send({ values: { email: 'ann@fjord.example', company: 'Fjord', industry } });
  await bring('Brewery').expect(201);
  await tendUnrouted(server.source, server.now);
  const id = await idOf('/api/companies', 'Fjord');
  const now = async (field = 'company.industry') => shown(await record('/api/companies', id), field);
  later();
  expect(await take('company', 'Name,industry', 'FJORD,Golf course')).toMatchObject({ accepted: 1, joined: 1 });
  await tendUnrouted(server.source, server.now);
  expect(await now()).toBe('Golf course');
  later();
  await bring('Fish farm');
  await tendUnrouted(server.source, server.now);
  expect(await now()).toBe('Fish farm');
  const { version } = await record('/api/companies', id);
  await admin
    .patch(`/api/companies/${id}`)
    .send({ version, values: { 'company.industry': 'Brewery' } })
    .expect(200);
  later();
  const kept = await take('company', 'Name,industry,employees', 'Fjord,Golf course,12');
  expect(kept.notes).toMatchObject([
    { field: 'company.industry', message: '“Golf course” is not taken: a hand set another' },
  ]);
  expect([await now(), await now('company.employees')]).toEqual(['Brewery', '12']);
  expect((await record('/api/companies', id)).said).toMatchObject([
    { field: 'company.industry', shown: 'Golf course' },
  ]);
});

test('a file is taken back: what it made goes, what it changed is as before; not once others hang on it', async () => {
  await take('company', 'Name,employees', 'Fjord,40');
  later();
  const file = await take('company', 'Name,employees', 'Fjord,50', 'Gale,7');
  const undo = async ({ id }: ImportReport) => {
    const answer = await admin.post(`/api/imports/${id}/undo`).send({});
    await importFiles(server.source, () => server.now);
    return answer;
  };
  later();
  const contacts = await take('contact', 'Name,company', 'Ann,Gale');
  expect((await undo(file)).body).toMatchObject({ status: 409, detail: expect.stringContaining('company') as string });
  later();
  expect((await undo(contacts)).status).toBe(202);
  expect(await names('/api/contacts')).toEqual([]);
  expect((await undo(file)).status).toBe(202);
  expect(await names('/api/companies')).toEqual(['Fjord']);
  const fjord = await record('/api/companies', await idOf('/api/companies', 'Fjord'));
  expect(shown(fjord, 'company.employees')).toBe('40');
  // A note on a contact of the file keeps it, although the call was earlier.
  const noted = await take('contact', 'Name', 'Bea');
  const bea = await idOf('/api/contacts', 'Bea');
  await admin
    .post(`/api/contacts/${bea}/activities`)
    .send({ kind: 'call_taken', at: '2026-03-01T09:00:00Z' })
    .expect(201);
  expect((await undo(noted)).status).toBe(409);
  // What was taken back may come again.
  later();
  expect(await take('company', 'Name,employees', 'Fjord,50', 'Gale,7')).toMatchObject({ accepted: 2, joined: 1 });
});

test('another system sends records with a key: only its fields, a repetition once, an untrusted key fills blanks only', async () => {
  const keyFor = async (fields: string[], trusted: boolean) =>
    ((await admin.post('/api/intake/keys').send({ name: 'Books', fields, trusted })).body as { secret: string }).secret;
  const send = (secret: string, path: string, body: object, mark?: string) => {
    const request = server.anyone.post(`/api/intake/${path}`).set('Authorization', `Bearer ${secret}`);
    return (mark === undefined ? request : request.set('Idempotency-Key', mark)).send(body);
  };
  const trusted = await keyFor(['company.name', 'company.industry', 'contact.email', 'contact.name'], true);
  const sent = await send(trusted, 'companies', { values: { 'company.name': 'Fjord', 'company.industry': 'Brewery' } });
  expect([sent.status, sent.body]).toMatchObject([201, { known: false, warnings: [] }]);
  const { id } = sent.body as AcceptedRecord;
  expect(
    (await send(trusted, 'companies', { values: { 'company.name': 'Fjord', 'company.employees': '9' } })).body,
  ).toMatchObject({
    status: 422,
    errors: [{ path: '/values/company.employees', message: 'may not be set this way in' }],
  });
  const contact = { values: { 'contact.email': 'ann@fjord.example' }, company: 'Fjord' };
  const answers = await Promise.all(['m1', 'm1', 'm1'].map((mark) => send(trusted, 'contacts', contact, mark)));
  expect(new Set(answers.map(({ body }) => (body as AcceptedRecord).id)).size).toBe(1);
  expect((await record('/api/companies', id)).ofContacts).toHaveLength(1);
  // At once, without a mark: the second finds the first.
  const twins = await Promise.all(
    [1, 2, 3, 4].map(() => send(trusted, 'contacts', { values: { 'contact.email': 'bo@fjord.example' } })),
  );
  expect(twins.map(({ status }) => status)).toEqual([201, 201, 201, 201]);
  expect(new Set(twins.map(({ body }) => (body as AcceptedRecord).id)).size).toBe(1);

  const untrusted = await keyFor(['company.name', 'company.industry', 'company.employees'], false);
  const values = { 'company.name': 'Fjord', 'company.industry': 'Golf course', 'company.employees': '9' };
  expect((await send(untrusted, 'companies', { values })).body).toMatchObject({ id, known: true });
  const after = await record('/api/companies', id);
  expect([shown(after, 'company.industry'), shown(after, 'company.employees')]).toEqual(['Brewery', '9']);
  expect(after.said).toMatchObject([{ field: 'company.industry', shown: 'Golf course' }]);
  expect((await send(untrusted, 'contacts', contact)).body).toMatchObject({
    errors: [{ path: '/values/contact.email', message: 'may not be set this way in' }],
  });
  const noCompany = await keyFor(['contact.email'], true);
  expect((await send(noCompany, 'contacts', contact)).body).toMatchObject({
    errors: [{ path: '/company', message: 'may not be set this way in' }],
  });
  expect((await send(trusted, 'deals', { values: {} })).body).toMatchObject({ errors: [{ path: '/company' }] });
});
