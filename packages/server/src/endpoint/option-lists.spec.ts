import type { FieldRow, LeadDetail, OptionListRow } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  await put('trades', ['Brewery', 'Dairy']).expect(200);
});
afterAll(() => server.stop());

const put = (key: string, options: readonly string[]) =>
  admin.put(`/api/option-lists/${encodeURIComponent(key)}`).send({ name: 'Trades', options });
const make = (key: string, type: string, optionList: string | null, rest: object = {}) =>
  admin.post('/api/fields').send({ key, name: key, type, options: [], optionList, ...rest });
const fieldOf = async (key: string) =>
  ((await admin.get('/api/fields')).body as FieldRow[]).find((field) => field.key === key);
const bring = async (email: string, trade: string) => {
  const answer = await admin.post('/api/leads').send({ values: { email, trade } });
  return answer.body as { id: number; warnings: { field: string }[] };
};

test('a list is shared by fields of several kinds: changed once it is changed for all, and what records have stays readable', async () => {
  await make('company.trade', 'choice', 'trades').expect(201);
  await make('trade', 'choice', 'trades', { feeds: 'company.trade' }).expect(201);
  const [list] = (await admin.get('/api/option-lists')).body as OptionListRow[];
  expect([list?.options, [...(list?.fields ?? [])].sort()]).toEqual([
    ['Brewery', 'Dairy'],
    ['company.trade', 'trade'],
  ]);

  const { id, warnings } = await bring('a@list.example', 'dairy');
  expect(warnings).toEqual([]);
  expect((await bring('b@list.example', 'Cheese')).warnings).toMatchObject([{ field: 'trade' }]);

  const [changed] = (await put('trades', ['Brewery', 'Cheese'])).body as OptionListRow[];
  expect([changed?.options, changed?.retiredOptions]).toEqual([['Brewery', 'Cheese'], ['Dairy']]);
  for (const key of ['trade', 'company.trade']) expect((await fieldOf(key))?.options).toEqual(['Brewery', 'Cheese']);
  // No longer offered, still the value of who has it; what is offered now is taken.
  const { values } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  expect(values.find(({ field }) => field === 'trade')).toMatchObject({ shown: 'Dairy', unreadable: null });
  expect((await bring('c@list.example', 'Cheese')).warnings).toEqual([]);

  // Once nobody has it any more it is gone for good.
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: 1, values: { trade: 'Cheese' } })
    .expect(200);
  expect(((await put('trades', ['Brewery', 'Cheese', 'Malt'])).body as OptionListRow[])[0]?.retiredOptions).toEqual([]);
});

test.each<[what: string, send: () => ReturnType<Agent['post']>, status: number, path: string | null]>([
  ['a field that is not chosen from a list', () => make('depth', 'number', 'trades'), 422, '/optionList'],
  ['a list that is not there', () => make('sort', 'choice', 'nowhere'), 422, '/optionList'],
  ['a list without options', () => put('empty', []), 422, '/options'],
  ['a key that is none', () => put('Trades of all', ['One']), 404, null],
])('%s is refused, and the place named', async (_, send, status, path) => {
  const answer = await send();
  expect(answer.status).toBe(status);
  const { errors = [] } = answer.body as { errors?: { path: string }[] };
  expect(errors.map((one) => one.path)).toEqual(path === null ? [] : [path]);
});
