import type { CharterFile, CharterState, Draft, Job, JournalRow } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { withPoints, withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { insertRows } from '../store/rows';
import { PersonEntity } from '../store/entity/people.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { JobEntity } from '../store/entity/charter.entity';
import { finishRescores } from '../job/rescore';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const stateFrom = async (sent: PromiseLike<{ body: unknown }>): Promise<CharterState> =>
  (await sent).body as CharterState;
const begin = async (name: string, from?: number): Promise<CharterState> =>
  stateFrom(admin.post('/api/drafts').send({ name, ...(from === undefined ? {} : { from }) }));
const draftOf = ({ draft }: CharterState): Draft => draft!;
const save = async (draft: Draft, charter: Charter, base?: number): Promise<CharterState> =>
  stateFrom(
    admin
      .put(`/api/drafts/${draft.id}`)
      .send({ version: draft.version, charter, ...(base === undefined ? {} : { base }) }),
  );
const enact = (draft: Draft, how: object = {}) =>
  admin.post(`/api/drafts/${draft.id}/enact`).send({ version: draft.version, reason: 'because', ...how });
const finish = async (): Promise<Job> => {
  await finishRescores(server.source, () => server.now);
  return (await admin.get('/api/jobs/latest')).body as Job;
};
const bring = async (email: string, values: object): Promise<number> =>
  ((await admin.post('/api/leads').send({ values: { email, ...values } })).body as { id: number }).id;
const leadOf = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });

test('drafts stand side by side; each admin has one open; a copy stands on the same charter', async () => {
  const first = draftOf(await begin('Autumn'));
  await save(first, withPoints(first.charter, 'trade', 44));
  const both = await begin('Winter', first.id);
  expect(draftOf(both)).toMatchObject({ base: 1, charter: { name: 'Winter' } });
  expect(draftOf(both).charter.scoreSets[0]!.signals[0]?.points).toBe(44);
  expect(both.drafts.map((row) => [row.name, row.openFor])).toEqual(
    expect.arrayContaining([
      ['Autumn', []],
      ['Winter', ['admin']],
    ]),
  );
  const { role, mayTakeLeads, whyNot, takes, password, retired } = await server.source.manager.findOneByOrFail(
    PersonEntity,
    { key: 'admin' },
  );
  await insertRows(server.source.manager, PersonEntity, [
    {
      key: 'second',
      name: 'Second Admin',
      email: 'second@relvik.example',
      role,
      mayTakeLeads,
      whyNot,
      takes,
      password,
      retired,
    },
  ]);
  const other = await server.as('second');
  expect(((await other.get('/api/charters')).body as CharterState).draft).toBeNull();
  const opened = (await other.post(`/api/drafts/${first.id}/open`).send({})).body as CharterState;
  expect(opened.draft?.charter.name).toBe('Autumn');
  expect(draftOf((await admin.get('/api/charters')).body as CharterState).charter.name).toBe('Winter');
  expect(((await admin.post('/api/drafts/close').send({})).body as CharterState).draft).toBeNull();
  expect((await admin.patch(`/api/drafts/${first.id}`).send({ note: 'for the fair' })).body).toMatchObject({
    drafts: expect.arrayContaining([expect.objectContaining({ note: 'for the fair' })]) as unknown,
  });
});

test('a draft behind the charter in force is brought up to date before it is enacted, and loses neither side’s changes', async () => {
  const slow = draftOf(await begin('Slow'));
  const drawn = draftOf(await save(slow, withPoints(slow.charter, 'size', 33)));
  const quick = draftOf(await begin('Quick'));
  await enact(draftOf(await save(quick, withPoints(quick.charter, 'trade', 11)))).expect(202);
  await finish();
  const refused = await enact(drawn);
  expect([refused.status, (refused.body as { title: string }).title]).toEqual([
    409,
    'Another charter has come into force since this draft was made',
  ]);
  const update = (await admin.get(`/api/drafts/${drawn.id}/up-to-date`)).body as {
    charter: Charter;
    clashes: unknown[];
    base: number;
  };
  expect([update.base, update.clashes]).toEqual([2, []]);
  await admin.post(`/api/drafts/${drawn.id}/open`).send({}).expect(200);
  const fresh = draftOf(await save(drawn, update.charter, update.base));
  expect(fresh).toMatchObject({ stale: false, base: 2 });
  expect(fresh.charter.scoreSets[0]!.signals.map((s) => s.points)).toEqual([11, 33, -10, 20]);
  await enact(fresh).expect(202);
  await finish();

  const { past, inForce } = await stateFrom(admin.get('/api/charters'));
  expect([inForce.number, past.map((row) => row.number)]).toEqual([3, [2, 1]]);
  const restored = draftOf(await begin('As it was', past.find((row) => row.number === 1)?.id));
  expect([restored.base, restored.charter.scoreSets[0]!.signals[0]?.points]).toEqual([3, 60]);
  const acts = ((await admin.get('/api/journal')).body as JournalRow[]).map((row) => row.act).reverse();
  expect(acts).toEqual(['begun', 'begun', 'enacted', 'finished', 'updated', 'enacted', 'finished', 'restored']);
});

test('an enact goes as far as it says, and only to the leads it names; who has an owner keeps them', async () => {
  server.now = new Date('2025-06-01T09:00:00Z');
  const old = await bring('old@d.example', { industry: 'Golf course', country: 'SE' });
  server.now = new Date('2026-03-02T09:00:00Z');
  const lately = await bring('new@d.example', { industry: 'Golf course', country: 'NO' });
  const owned = await bring('own@d.example', { industry: 'Golf course', country: 'NO' });
  expect([(await leadOf(lately)).stage, (await leadOf(owned)).owner]).toEqual(['new', null]);
  await admin.post(`/api/leads/${owned}/assign`).send({ rep: 'bo' }).expect(200);

  // In the draft fit alone hands a lead over.
  const easier = (charter: Charter): Charter =>
    withSets(charter, (set) => ({
      ...set,
      grid: {
        ...set.grid,
        cells: [
          ['hand-over', 'hand-over'],
          ['hand-over', 'hand-over'],
          ['hand-over', 'hand-over-now'],
        ],
      },
    }));
  const draft = draftOf(await begin('Easier'));
  const drawn = draftOf(await save(draft, easier(draft.charter)));
  const bad = await enact(drawn, { scope: { which: 'touched' }, reach: 'routes' });
  expect(bad.body).toMatchObject({ status: 422, errors: [{ path: '/scope/months' }] });
  await enact(drawn, { scope: { which: 'touched', months: 6 }, reach: 'routes' }).expect(202);
  expect(await finish()).toMatchObject({ state: 'done', reach: 'routes', scope: { which: 'touched', months: 6 } });
  expect(await leadOf(old)).toMatchObject({ stage: 'new', charter: 1, verdict: 'no-action' });
  expect(await leadOf(lately)).toMatchObject({ stage: 'qualified', charter: 2, place: 'owner' });
  expect(await leadOf(owned)).toMatchObject({ stage: 'qualified', owner: 'bo' });
});

test('a rescore can be stopped; what was done stays, and the journal says so', async () => {
  for (let i = 0; i < 3; i += 1) await bring(`c${i}@d.example`, { industry: 'Brewery' });
  const draft = draftOf(await begin('Half'));
  const job = (await enact(draftOf(await save(draft, withPoints(draft.charter, 'trade', 1))))).body as Job;
  // As a server that stopped after one lead would have left it, or one that had not begun.
  await finish();
  await server.source.manager.update(JobEntity, job.id, { state: 'running', done: 1, endedAt: null });
  const stopped = await admin.post(`/api/jobs/${job.id}/cancel`).send({});
  expect(stopped.body).toMatchObject({ state: 'cancelled', done: 1 });
  expect((await admin.post(`/api/jobs/${job.id}/cancel`).send({})).status).toBe(409);
  const [last] = (await admin.get('/api/journal')).body as JournalRow[];
  expect(last).toMatchObject({ act: 'cancelled', why: 'after 1 of 3 leads' });
});

test('a charter leaves as a file and comes back as a draft; one that was changed on the way does not', async () => {
  const { inForce } = await stateFrom(admin.get('/api/charters'));
  const file = (await admin.get(`/api/charters/${inForce.id}/file`)).body as CharterFile;
  const back = await stateFrom(admin.post('/api/drafts/import').send({ text: JSON.stringify(file) }));
  expect(draftOf(back).charter).toEqual(inForce.charter);
  const forged = { ...file, charter: withPoints(file.charter, 'trade', 99) };
  expect((await admin.post('/api/drafts/import').send({ text: JSON.stringify(forged) })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/checksum' }],
  });
  expect((await admin.post('/api/drafts/import').send({ text: 'x'.repeat(950_000) })).status).toBe(422);
  expect((await admin.post('/api/drafts/import').send({ text: 'x'.repeat(5_000_000) })).status).toBe(413);
  const drawn = draftOf(await save(draftOf(back), withPoints(inForce.charter, 'trade', 7)));
  expect((await admin.get(`/api/charters/${inForce.id}/patch/${drawn.id}`)).body).toEqual([
    { op: 'replace', path: '/scoreSets/0/signals/0/points', value: 7 },
  ]);
});
