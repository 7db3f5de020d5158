import type { ImportReport, ImportState } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { importFiles } from '../job/import-files';
import { ImportRowEntity } from '../store/entity/import.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity, RepLoadEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const file = (...rows: string[]) => rows.join('\r\n');
const stage = (text: string) => admin.post('/api/intake/csv').set('Content-Type', 'text/csv').send(text);
const leads = () => server.source.manager.count(LeadEntity);

test('a file: rows accepted, refused by row and field, joined, with a known owner kept', async () => {
  const report = await server.importFile(
    admin,
    file(
      'Name,E-mail,country,employees,owner',
      'Liv,liv@f.example,NO,40,Dee Winslade',
      ',,NO,12,',
      'Odd,odd@f.example,NO,many,',
      'Unknown,unknown@f.example,NO,4,Nobody',
      'Liv,LIV@f.example,NO,45,',
    ),
  );
  expect(report).toMatchObject({ state: 'done', rows: 5, waiting: 0, accepted: 3, joined: 1, refused: 2 });
  expect(report.notes).toMatchObject([
    { row: 2, field: 'email', refused: true },
    { row: 3, field: 'employees', refused: false },
    { row: 4, field: 'owner', message: 'nobody here is called “Nobody”', refused: true },
  ]);
  expect(
    await server.source.manager.findOneByOrFail(LeadEntity, { email: 'liv@f.example', status: 'open' }),
  ).toMatchObject({
    owner: 'dee',
    place: 'owner',
    way: 'csv',
  });
  await server.deliver();
  expect((await admin.get('/api/home')).body).toMatchObject({
    notices: expect.arrayContaining([expect.objectContaining({ kind: 'imported' })]) as object[],
  });
});

test('a file that can’t be taken in is refused as a whole, with every place named', async () => {
  expect((await stage(file('Name,Shoe size', 'Liv,44'))).body).toMatchObject({ errors: [{ path: '/header/1' }] });
  expect((await stage(file('Name,E-mail', '"Liv,44'))).body).toMatchObject({ status: 422 });
  expect(
    (await stage(file('E-mail', ...Array.from({ length: 50_001 }, (_, i) => `${i}@g.example`)))).body,
  ).toMatchObject({ errors: [{ path: '/rows', message: 'has 50001 rows; at most 50000 at a time' }] });
  expect(await leads()).toBe(0);
});

test('the same file again does nothing and finds what became of it', async () => {
  const text = file('E-mail,industry', ...Array.from({ length: 60 }, (_, i) => `s${i}@h.example,Brewery`));
  const first = await server.importFile(admin, text);
  const second = (await stage(text)).body as ImportState;
  expect(second).toMatchObject({ id: first.id, again: true, accepted: 60 });
  await importFiles(server.source, () => server.now);
  expect(await leads()).toBe(60);
});

test('the same file sent twice at the same moment, by two people, is one import', async () => {
  await server.source.manager.update(PersonEntity, { key: 'boss' }, { role: 'admin' });
  const boss = await server.as('boss');
  const text = file('Name,Company', ...Array.from({ length: 40 }, (_, i) => `Twice ${i},Twice Works`));
  const sent = await Promise.all(
    [admin, boss, admin].map((agent) => agent.post('/api/intake/csv').set('Content-Type', 'text/csv').send(text)),
  );
  expect(sent.map(({ status }) => status)).toEqual([202, 202, 202]);
  expect(new Set(sent.map(({ body }) => (body as ImportState).id)).size).toBe(1);
  await importFiles(server.source, () => server.now);
  expect(await leads()).toBe(40);
});

test('two servers at one file, and one that stops in the middle: each row once', async () => {
  const text = file('E-mail,industry,country', ...Array.from({ length: 180 }, (_, i) => `k${i}@k.example,Brewery,NO`));
  const { id } = (await stage(text)).body as ImportState;
  const cut = { calls: 0 };
  // The first server's clock fails after some batches, as if it were killed.
  const failing = importFiles(server.source, () => {
    cut.calls += 1;
    if (cut.calls > 3) throw Object.assign(new Error('Connection lost'), { code: 'PROTOCOL_CONNECTION_LOST' });
    return server.now;
  }).catch((error: unknown) => error);
  expect(await failing).toBeInstanceOf(Error);
  expect((await admin.get(`/api/imports/${id}`)).body).toMatchObject({ state: 'running', accepted: 75, waiting: 105 });
  await Promise.all([importFiles(server.source, () => server.now), importFiles(server.source, () => server.now)]);
  await importFiles(server.source, () => server.now);
  expect((await admin.get(`/api/imports/${id}`)).body).toMatchObject({ state: 'done', accepted: 180, waiting: 0 });
  expect(await leads()).toBe(180);
  const rows = await server.source.manager.find(ImportRowEntity);
  expect(new Set(rows.map(({ record }) => record)).size).toBe(180);
});

test('a row that can’t be written is refused alone', async () => {
  const text = file('E-mail,industry', ...Array.from({ length: 30 }, (_, i) => `b${i}@b.example,Brewery`));
  const { id } = (await stage(text)).body as ImportState;
  // A trigger stands for whatever the database may refuse.
  await server.source.query(
    "CREATE TRIGGER refuse_one BEFORE INSERT ON `lead` FOR EACH ROW IF NEW.email = 'b7@b.example' THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'not this one'; END IF",
  );
  await importFiles(server.source, () => server.now);
  const report = (await admin.get(`/api/imports/${id}`)).body as ImportReport;
  expect(report).toMatchObject({ state: 'done', accepted: 29, refused: 1 });
  expect(report.notes).toMatchObject([{ row: 8, message: 'could not be taken in: not this one' }]);
});

test('an import is undone: leads go, loads and turns are given back, known leads get their values back', async () => {
  const known = (
    await admin.post('/api/leads').send({ values: { email: 'known@u.example', employees: '5' }, owner: 'dee' })
  ).body as { id: number };
  await admin.post('/api/leads').send({ values: { email: 'turn@u.example', industry: 'Brewery', country: 'NO' } });
  // When someone last got a lead is not given back: they had it.
  const loads = () =>
    server.source.manager.find(RepLoadEntity, { select: { rep: true, open: true }, order: { rep: 'ASC' } });
  const turns = () => server.source.query<object[]>('SELECT * FROM rota ORDER BY route');
  const before = { loads: await loads(), turns: await turns(), leads: await leads() };

  server.now = new Date(server.now.getTime() + 60_000);
  const report = await server.importFile(
    admin,
    file(
      'E-mail,employees,industry,country',
      'known@u.example,90,,',
      'new@u.example,,Brewery,NO',
      'two@u.example,,Brewery,NO',
    ),
  );
  expect(report).toMatchObject({ accepted: 3, joined: 1, workedOn: [] });
  await admin.post(`/api/imports/${report.id}/undo`).expect(202);
  await importFiles(server.source, () => server.now);
  const after = (await admin.get(`/api/imports/${report.id}`)).body as ImportReport;
  expect(after).toMatchObject({ state: 'undone', undone: 3, kept: 0 });
  expect({ loads: (await loads()).filter(({ open }) => open > 0), turns: await turns(), leads: await leads() }).toEqual(
    {
      ...before,
      loads: before.loads.filter(({ open }) => open > 0),
    },
  );
  const detail = (await admin.get(`/api/leads/${known.id}`)).body as { values: object[]; activities: object[] };
  expect([detail.values.find((v) => (v as { field: string }).field === 'employees'), detail.activities]).toEqual([
    { field: 'employees', shown: '5', unreadable: null },
    [],
  ]);
});

test('an import can’t be undone once somebody has worked on what came', async () => {
  const report = await server.importFile(admin, file('E-mail,industry', 'w@w.example,Brewery'));
  const { id } = await server.source.manager.findOneByOrFail(LeadEntity, { email: 'w@w.example' });
  server.now = new Date(server.now.getTime() + 60_000);
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: 1, values: { employees: '50' } })
    .expect(200);
  expect((await admin.post(`/api/imports/${report.id}/undo`)).body).toMatchObject({
    status: 409,
    detail: `1 of its leads were worked on since, lead ${id} among them.`,
  });
  expect((await admin.get(`/api/imports/${report.id}`)).body).toMatchObject({ state: 'done', workedOn: [id] });
});

test('a call noted on a lead of a file keeps the file from being undone, though it was taken the day before', async () => {
  const report = await server.importFile(admin, file('E-mail,industry', 'early@d.example,Brewery'));
  const { id } = await server.source.manager.findOneByOrFail(LeadEntity, { email: 'early@d.example', status: 'open' });
  server.now = new Date(server.now.getTime() + 60_000);
  await admin.post(`/api/leads/${id}/activities`).send({ kind: 'call_taken', at: '2026-03-01T09:00:00Z' }).expect(201);
  expect((await admin.post(`/api/imports/${report.id}/undo`)).body).toMatchObject({ status: 409 });
});
