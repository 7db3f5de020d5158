import type { BackgroundState, LeadDetail, RecordDetail, RecordPage } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { withKeyAccountGate } from '../fixture/key-account-gate.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { followTies } from '../job/tie-changes';
import { tendUnrouted } from '../job/tend-unrouted';
import { SuggestionEntity } from '../store/entity/suggestion.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withKeyAccountGate);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const later = (ms = 1000) => (server.now = new Date(server.now.getTime() + ms));
const bring = async (values: object): Promise<number> => {
  later();
  return ((await admin.post('/api/leads').send({ values })).body as { id: number }).id;
};
const lead = async (id: number) => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const companyOf = async (id: number): Promise<number> => (await lead(id)).ties.company!.id;
const record = async (path: string, as = admin) => (await as.get(path)).body as RecordDetail;
const shown = ({ values }: RecordDetail, field: string) => values.find((one) => one.field === field)?.shown;
const tend = () => tendUnrouted(server.source, server.now);
const sendForm = async (values: object): Promise<void> => {
  later();
  await server.writer.accept({
    cause: { kind: 'form', name: 'ask' },
    at: server.now,
    values: values as Record<string, string>,
    owner: null,
    trusted: false,
  });
};
const edit = async (path: string, values: object) => {
  const { version } = await record(path);
  return admin.patch(path).send({ version, values });
};

test('a form with a known mail domain is put under the company, and rewrites nothing of it; what it says stands beside', async () => {
  const id = await bring({ email: 'a@fjord.example', company: 'Fjord', industry: 'Brewery', country: 'NO' });
  await tend();
  const company = await companyOf(id);
  await sendForm({ email: 'b@fjord.example', employees: '80', industry: 'Fish farm' });
  await tend();
  const after = await record(`/api/companies/${company}`);
  expect([after.leads, shown(after, 'company.industry'), shown(after, 'company.employees')]).toEqual([
    2,
    'Brewery',
    '80',
  ]);
  expect(after.said).toMatchObject([{ field: 'company.industry', shown: 'Fish farm' }]);
  await admin.post(`/api/companies/${company}/said`).send({ field: 'company.industry', take: true }).expect(200);
  const taken = await record(`/api/companies/${company}`);
  expect([shown(taken, 'company.industry'), taken.said]).toEqual(['Fish farm', []]);
});

test('what a hand set on a company stays, whatever a newer lead says; emptied, it is what the leads say again', async () => {
  const id = await bring({ email: 'a@fjord.example', company: 'Fjord', industry: 'Brewery' });
  await tend();
  const path = `/api/companies/${await companyOf(id)}`;
  await edit(path, { 'company.industry': 'Golf course' });
  await bring({ email: 'b@fjord.example', company: 'Fjord', industry: 'Fish farm', employees: '12' });
  await tend();
  const kept = await record(path);
  expect([shown(kept, 'company.industry'), shown(kept, 'company.employees')]).toEqual(['Golf course', '12']);
  expect(kept.values.find(({ field }) => field === 'company.industry')).toMatchObject({ byHand: true });
  await edit(path, { 'company.industry': '' });
  await tend();
  expect(shown(await record(path), 'company.industry')).toBe('Fish farm');
  const stale = await admin.patch(path).send({ version: kept.version, values: { 'company.industry': 'Brewery' } });
  expect([stale.status, (stale.body as { type: string }).type]).toEqual([409, '/docs/errors.md#record-changed']);
});

test('“n/a” and “private” name no company, nor does what the admin adds; a free mailbox tells none', async () => {
  for (const [i, company] of ['n/a', ' Private ', 'N/A'].entries())
    expect((await lead(await bring({ email: `p${i}@gmx.net`, company }))).ties.company).toBeNull();
  await admin.post('/api/no-companies').send({ kind: 'name', word: 'Freelance' }).expect(201);
  expect((await lead(await bring({ email: 'f@gmx.net', company: 'FREELANCE' }))).ties.company).toBeNull();
  const one = await bring({ email: 'x@gmx.net', company: 'Fjord' });
  const two = await bring({ email: 'y@gmx.net' });
  expect([(await lead(one)).ties.company?.name, (await lead(two)).ties.company]).toEqual(['Fjord', null]);
});

test('one name in two countries is two companies, suggested to be one and not joined', async () => {
  const norway = await companyOf(await bring({ email: 'a@gmx.net', company: 'Fjord', country: 'NO' }));
  const sweden = await companyOf(await bring({ email: 'b@gmx.net', company: 'FJORD', country: 'SE' }));
  expect(await companyOf(await bring({ email: 'c@gmx.net', company: 'fjord', country: 'SE' }))).toBe(sweden);
  expect(sweden).not.toBe(norway);
  const suggested = await server.source.manager.find(SuggestionEntity);
  expect(suggested).toMatchObject([{ kind: 'company', older: norway, younger: sweden, settled: false }]);
  // Each can be edited; only its identity may not become the other's.
  await tend();
  await server.source.query("DELETE FROM field_value WHERE record = ? AND field = 'company.country'", [sweden]);
  await edit(`/api/companies/${sweden}`, { 'company.key_account': 'yes' });
  const { version } = await record(`/api/companies/${sweden}`);
  await admin
    .patch(`/api/companies/${sweden}`)
    .send({ version, values: { 'company.country': 'NO' } })
    .expect(409);
});

test('a change of the company makes its 5,000 open leads due, each once; gates read it across the tie, intake goes on beside', async () => {
  const first = await bring({ email: 'a@fjord.example', company: 'Fjord', country: 'DE' });
  for (let i = 1; i < 5000; i += 500)
    await Promise.all(
      Array.from({ length: Math.min(500, 5000 - i) }, (_, k) =>
        server.writer.accept({
          cause: { kind: 'csv', name: 'x' },
          at: server.now,
          values: { email: `p${i + k}@fjord.example`, company: 'Fjord' },
          owner: null,
          trusted: true,
        }),
      ),
    );
  await tend();
  const company = `/api/companies/${await companyOf(first)}`;
  await edit(company, { 'company.key_account': 'yes' });
  await edit(company, { 'company.key_account': 'no' });
  await edit(company, { 'company.key_account': 'yes' });
  const beside = bring({ email: 'new@fjord.example', company: 'Fjord' });
  // Progress is seen.
  expect(((await admin.get('/api/background')).body as BackgroundState).due.lead).toBe(5000);
  expect((await record(company)).leadsDue).toBe(5000);
  expect(await followTies(server.source, server.now)).toBe(5000);
  expect(await followTies(server.source, server.now)).toBe(0);
  const rows = await server.source.query<{ stage: string; n: string }[]>(
    'SELECT stage, COUNT(*) AS n FROM `lead` GROUP BY stage',
  );
  // The one that came in meanwhile read it at once.
  expect([rows, (await lead(await beside)).stage]).toEqual([[{ stage: 'qualified', n: '5001' }], 'qualified']);
  const decided = await server.source.query<{ n: string }[]>(
    "SELECT COUNT(*) AS n FROM decision WHERE occasion = 'tie-changed' GROUP BY record HAVING COUNT(*) > 1",
  );
  expect(decided).toEqual([]);
}, 180_000);

test('a contact without an e-mail; another with one that is known is refused; a lead with it comes under it later', async () => {
  const made = await admin
    .post('/api/contacts')
    .send({ values: { 'contact.name': 'Kari Nord' } })
    .expect(201);
  const { id } = made.body as RecordDetail;
  expect((await record(`/api/contacts/${id}`)).name).toBe('Kari Nord');
  await edit(`/api/contacts/${id}`, { 'contact.email': 'kari@fjord.example' });
  const twice = await admin.post('/api/contacts').send({ values: { 'contact.email': 'KARI@fjord.example' } });
  expect(twice.body).toMatchObject({ status: 409, other: id });
  await admin.post('/api/contacts').send({ values: {} }).expect(422);
  expect((await lead(await bring({ email: 'kari@fjord.example' }))).ties.contact).toEqual({ id, name: 'Kari Nord' });
  // With another address it stays the contact of the leads that came with the old one.
  await edit(`/api/contacts/${id}`, { 'contact.email': 'kari@new.example' });
  expect((await lead(await bring({ email: 'kari@fjord.example' }))).ties.contact?.id).toBe(id);
});

test('a contact and a company are edited before their leads have fed them; they stay known by what they were known by', async () => {
  const id = await bring({ email: 'a@fjord.example', company: 'Fjord', country: 'NO' });
  const { contact, company } = (await lead(id)).ties;
  const paths = [`/api/contacts/${contact!.id}`, `/api/companies/${company!.id}`] as const;
  expect((await edit(paths[0], { 'contact.name': 'Kari Nord' })).status).toBe(200);
  expect((await edit(paths[1], { 'company.industry': 'Brewery' })).status).toBe(200);
  const columns = await server.source.query<object[]>(
    'SELECT c.email, f.country, c.name FROM contact c, company f WHERE c.id = ? AND f.id = ?',
    [contact!.id, company!.id],
  );
  expect(columns).toEqual([{ email: 'a@fjord.example', country: 'NO', name: 'Kari Nord' }]);
  await tend();
  expect(shown(await record(paths[0]), 'contact.email')).toBe('a@fjord.example');
  const [again, abroad] = [
    await bring({ email: 'b@gmx.net', company: 'FJORD', country: 'NO' }),
    await bring({ email: 'c@gmx.net', company: 'Fjord', country: 'SE' }),
  ];
  expect(await companyOf(again)).toBe(company!.id);
  expect(await companyOf(abroad)).not.toBe(company!.id);
});

test('a deal of a lead has its ties and its owner; an amount without a currency is kept and marked; it is won and lost', async () => {
  const from = await bring({ email: 'a@fjord.example', company: 'Fjord', industry: 'Brewery' });
  const make = async (body: object) => admin.post('/api/deals').send(body);
  const made = (await make({ lead: from, values: { 'deal.amount': '20000' } })).body as RecordDetail;
  expect(made).toMatchObject({
    name: 'Fjord',
    stage: 'deal-open',
    status: 'open',
    lead: { id: from },
    ties: { company: { name: 'Fjord' }, contact: { name: 'a@fjord.example' } },
  });
  expect(made.values.find(({ field }) => field === 'deal.amount')).toMatchObject({
    shown: '20000',
    unreadable: expect.stringMatching(/currency/) as string,
  });
  expect((await admin.get('/api/unjudged')).body).toContainEqual(
    expect.objectContaining({ field: 'deal.amount', kind: 'deal', raw: '20000' }),
  );
  expect((await make({ values: {} })).body).toMatchObject({ status: 422, errors: [{ path: '/company' }] });
  expect((await make({ lead: 999, values: {} })).body).toMatchObject({ status: 422, errors: [{ path: '/lead' }] });
  const move = (stage: string, reason?: string) => admin.post(`/api/deals/${made.id}/stage`).send({ stage, reason });
  expect((await move('deal-lost')).body).toMatchObject({ status: 422, errors: [{ path: '/reason' }] });
  expect((await move('deal-lost', 'too dear')).body).toMatchObject({ status: 'lost', closeReason: 'too dear' });
  expect((await move('deal-won')).body).toMatchObject({ status: 'won', closeReason: null });
  expect((await move('deal-offer')).body).toMatchObject({ status: 'open', stage: 'deal-offer' });
  const page = (await admin.get('/api/deals').query({ stage: 'deal-offer' })).body as RecordPage;
  expect(page.rows.map(({ id }) => id)).toEqual([made.id]);
  const file = await admin.get('/api/deals.csv').query({ columns: 'company,stage,field:deal.amount' });
  expect(file.text.split('\r\n').slice(0, 2)).toEqual([
    'Id,Deal,Company,Stage,Deal: Amount',
    `${made.id},Fjord,Fjord,Offer made,20000`,
  ]);
});

test('a company is worked before anyone there is known; the person is added later, and leads that name it come under it', async () => {
  const made = await admin
    .post('/api/companies')
    .send({ values: { 'company.name': 'Loch Torr', 'company.country': 'GB' } });
  const { id } = made.body as RecordDetail;
  const again = await admin.post('/api/companies').send({ values: { 'company.name': 'loch torr' } });
  expect(again.body).toMatchObject({ status: 409, other: id });
  await admin.post(`/api/companies/${id}/known-by`).send({ kind: 'domain', text: '@torr.example' }).expect(200);
  await admin
    .post('/api/contacts')
    .send({ values: { 'contact.name': 'Ailsa' }, company: id })
    .expect(201);
  expect(await companyOf(await bring({ email: 'x@torr.example' }))).toBe(id);
  const detail = await record(`/api/companies/${id}`);
  expect(detail.ofContacts.map(({ name }) => name).sort()).toEqual(['', 'Ailsa']);
  expect(detail.knownBy).toContainEqual({ kind: 'domain', text: 'torr.example' });
});

test('lists of other kinds take conditions, orders and views; `/` finds by name, e-mail, telephone and domain', async () => {
  await bring({
    email: 'a@fjord.example',
    name: 'Kari Nord',
    company: 'Fjord Brygg',
    industry: 'Brewery',
    employees: '80',
  });
  await bring({ email: 'b@elv.example', company: 'Elv & Co', industry: 'Golf course' });
  await tend();
  const when = JSON.stringify({
    test: 'one-of',
    subject: { kind: 'field', field: 'company.industry' },
    values: ['Brewery'],
  });
  const list = async (path: string, query: object) => ((await admin.get(path).query(query)).body as RecordPage).rows;
  expect((await list('/api/companies', { when })).map(({ name }) => name)).toEqual(['Fjord Brygg']);
  expect((await admin.get('/api/company-count').query({ when })).body).toEqual({ count: 1 });
  const of = JSON.stringify({
    test: 'range',
    subject: { kind: 'happened', activity: 'mail_clicked', having: [], within: 7 },
    from: { at: '1', included: true },
    to: null,
  });
  expect(await list('/api/companies', { when: of })).toEqual([]);
  const [{ id }] = await server.source.query<[{ id: number }]>('SELECT MIN(id) AS id FROM `lead`');
  await admin
    .post(`/api/leads/${id}/activities`)
    .send({ kind: 'mail_clicked', at: server.now.toISOString() })
    .expect(201);
  expect((await list('/api/companies', { when: of })).map(({ name }) => name)).toEqual(['Fjord Brygg']);
  expect(
    (await list('/api/contacts', { when: of, columns: 'field:contact.email' })).map(({ values }) => values),
  ).toEqual([{ 'contact.email': 'a@fjord.example' }]);
  expect((await list('/api/companies', { order: 'newest' })).map(({ name }) => name)).toEqual([
    'Elv & Co',
    'Fjord Brygg',
  ]);
  expect((await admin.get('/api/companies').query({ place: 'bay' })).status).toBe(422);
  const saved = await admin
    .post('/api/views')
    .send({ name: 'Brewers', shared: true, kind: 'company', query: { when } });
  expect(saved.body).toMatchObject([{ name: 'Brewers', kind: 'company' }]);
  const find = async (text: string, as = admin) =>
    ((await as.get('/api/find').query({ text })).body as { kind: string; name: string }[]).map(
      ({ kind, name }) => `${kind} ${name}`,
    );
  expect(await find('kari')).toEqual(['lead Kari Nord', 'contact Kari Nord']);
  expect(await find('fjord.ex')).toEqual(['lead Kari Nord', 'company Fjord Brygg']);
  expect(await find('b@elv')).toEqual(['lead Elv & Co', 'contact b@elv.example', 'company Elv & Co']);
  expect(await find('kari', await server.as('dee'))).toEqual([]);
});

test('a rep sees the company of one of their leads, edits it while nobody owns it, and no other', async () => {
  const own = await bring({
    email: 'a@fjord.example',
    company: 'Fjord',
    country: 'NO',
    industry: 'Brewery',
    employees: '60',
  });
  const company = await companyOf(own);
  await tend();
  const { place } = await lead(own);
  if (place.kind !== 'owner') throw new Error('it is handed over');
  const rep = await server.as(place.rep);
  expect((await record(`/api/companies/${company}`, rep)).may).toEqual({ edit: true, assign: false, decide: false });
  const other = await server.as('dee');
  await other.get(`/api/companies/${company}`).expect(404);
  await other.post('/api/deals').send({ values: {}, company }).expect(422);
  await admin.post(`/api/companies/${company}/owner`).send({ owner: 'dee' }).expect(200);
  expect((await record(`/api/companies/${company}`, other)).may).toEqual({ edit: true, assign: false, decide: false });
  expect((await record(`/api/companies/${company}`, rep)).may).toMatchObject({ edit: false, assign: false });
  await rep.patch(`/api/companies/${company}`).send({ version: 1, values: {} }).expect(403);
});
