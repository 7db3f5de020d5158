import type {
  Accepted,
  LeadDetail,
  ProblemDocument,
  SpellingRow,
  SpellingsRead,
  Taken,
  TakenBack,
  TakePreview,
  UnjudgedRow,
} from '@relvik/contracts';
import type { OwnRegion } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const state = { options: [], personal: false, key: 'state', name: 'State', type: 'region' };
  await admin.post('/api/fields').send(state).expect(201);
});
afterEach(() => server.stop());

let people = 0;
const bring = async (values: object): Promise<number> => {
  const email = `p${(people += 1)}@place.example`;
  const sent = { values: { email, industry: 'Brewery', ...values } };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const valueOf = async (id: number, field: string) =>
  ((await admin.get(`/api/leads/${id}`)).body as LeadDetail).values.find((one) => one.field === field);
const states = (ids: readonly number[]) => Promise.all(ids.map(async (id) => (await valueOf(id, 'state'))?.shown));
const TAKE = { field: 'state', raw: 'Californa', means: 'California' };

test('a text that is not recognised is proposed, previewed, taken for a region wherever it waits, and for all that comes; taken back, all is as before', async () => {
  const ids = [
    await bring({ country: 'US', state: 'Californa' }),
    await bring({ country: 'US', state: 'CALIFORNA' }),
    await bring({ country: 'DE', state: 'Californa' }),
    await bring({ state: 'Californa' }),
  ];
  const rows = (await admin.get('/api/unjudged').expect(200)).body as UnjudgedRow[];
  expect(rows).toContainEqual(expect.objectContaining({ field: 'state', raw: 'CALIFORNA', likely: 'US-CA' }));

  const preview = (await admin.post('/api/spellings/preview').send(TAKE).expect(200)).body as TakePreview;
  expect(preview).toMatchObject({ corrects: [{ field: 'state', records: 3 }], others: 1 });
  const taken = (await admin.post('/api/spellings').send(TAKE).expect(200)).body as Taken;
  expect(taken).toMatchObject({ corrected: 3, spelling: { list: 'regions:US', means: 'US-CA' } });
  expect(await states(ids)).toEqual(['US-CA', 'US-CA', 'Californa', 'US-CA']);
  const later = await bring({ country: 'USA', state: ' californa.' });
  expect(await states([later])).toEqual(['US-CA']);

  // A value changed by hand since then is left alone.
  const { version } = await server.source.manager.findOneByOrFail(LeadEntity, { id: ids[1] });
  await admin
    .patch(`/api/leads/${ids[1]}`)
    .send({ version, values: { state: 'Oregon' } })
    .expect(200);
  const back = { list: 'regions:US', written: 'Californa' };
  const { restored, spellings } = (await admin.post('/api/spellings/take-back').send(back).expect(200))
    .body as TakenBack;
  expect([restored, spellings]).toEqual([2, []]);
  expect(await states(ids)).toEqual(['Californa', 'US-OR', 'Californa', 'Californa']);
  expect((await valueOf(ids[0] as number, 'state'))?.unreadable).toBe('is not a region of United States of America');
  await admin.post('/api/spellings/take-back').send(back).expect(404);
});

test('a lead that waits in the bay for a misspelled country goes on when its spelling is given', async () => {
  const id = await bring({ country: 'Norweyy' });
  const placeNow = async () => (await server.source.manager.findOneByOrFail(LeadEntity, { id })).place;
  expect(await placeNow()).toBe('bay');
  await admin.post('/api/spellings').send({ field: 'country', raw: 'Norweyy', means: 'Norway' }).expect(200);
  expect(await placeNow()).toBe('owner');
});

test.each([
  [{ ...TAKE, means: 'Mordor' }, '/means'],
  [{ ...TAKE, raw: 'Oregon' }, '/raw'],
  [{ field: 'email', raw: 'x', means: 'a@b.example' }, '/field'],
  [{ ...TAKE, field: 'nothing' }, '/field'],
  [{ ...TAKE, means: '' }, '/means'],
])('%j is refused, naming what is wrong', async (take, path) => {
  const body = (await admin.post('/api/spellings').send(take).expect(422)).body as ProblemDocument;
  expect(body.errors).toContainEqual(expect.objectContaining({ path }));
});

test('spellings come from a file: told first, then taken in; what is wrong stands beside its row', async () => {
  const waiting = await bring({ industry: 'Brauerei' });
  await admin.post('/api/spellings').send({ field: 'country', raw: 'Norge og', means: 'NO' }).expect(200);
  const row = (list: string, written: string, means: string) => ({ list, written, means });
  const rows = [
    row('field:industry', 'Brauerei', 'Brewery'),
    row('countries', 'Norge og', 'Sweden'),
    row('regions:US', 'Bayernland', 'DE-BY'),
    row('nowhere', 'x', 'y'),
  ];
  const told = (await admin.post('/api/spellings/file').send({ rows, apply: false }).expect(200)).body as SpellingsRead;
  expect(told).toMatchObject({ fresh: 1, changed: [{ written: 'Norge og', from: 'NO', to: 'SE' }], corrected: 0 });
  expect(told.problems.map((one) => one.row)).toEqual([3, 4]);
  expect((await valueOf(waiting, 'industry'))?.shown).toBe('Brauerei');
  const done = (await admin.post('/api/spellings/file').send({ rows, apply: true }).expect(200)).body as SpellingsRead;
  expect(done.corrected).toBe(1);
  expect((await valueOf(waiting, 'industry'))?.shown).toBe('Brewery');
  const all = (await admin.get('/api/spellings').expect(200)).body as SpellingRow[];
  expect(all.map(({ written, means }) => [written, means])).toEqual([
    ['Norge og', 'SE'],
    ['Brauerei', 'Brewery'],
  ]);
});

test('a region of our own is added under a country, corrects what waits, keeps its old name when renamed, and goes when nobody has it', async () => {
  const id = await bring({ country: 'DE', state: 'Ruhr' });
  const added = (await admin.post('/api/own-regions').send({ country: 'DE', name: 'Ruhr' }).expect(201))
    .body as OwnRegion[];
  expect(added).toEqual([{ code: 'DE-RUHR', name: 'Ruhr' }]);
  expect(await states([id])).toEqual(['DE-RUHR']);
  await admin.post('/api/own-regions').send({ country: 'DE', name: 'ruhr' }).expect(422);
  await admin.post('/api/own-regions').send({ country: 'DE', name: 'Bavaria' }).expect(422);
  await admin.patch('/api/own-regions/DE-RUHR').send({ name: 'Ruhr area' }).expect(200);
  expect(await states([await bring({ country: 'DE', state: 'ruhr' }), id])).toEqual(['DE-RUHR', 'DE-RUHR']);
  await admin.delete('/api/own-regions/DE-RUHR').expect(409);
  await admin.post('/api/own-regions').send({ country: 'GB', name: 'Scottish Borders Wide' }).expect(201);
  const left = (await admin.delete('/api/own-regions/GB-SCOTTISHBORDERSWIDE').expect(200)).body as OwnRegion[];
  expect(left.map(({ code }) => code)).toEqual(['DE-RUHR']);
});
