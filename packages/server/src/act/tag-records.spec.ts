import type { LeadDetail, RecordDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
let next = 0;

beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterAll(() => server.stop());

async function bring(values: Record<string, unknown> = {}, owner: string | null = null): Promise<number> {
  next += 1;
  const lead = { values: { email: `l${next}@firm.example`, ...values }, owner };
  return ((await admin.post('/api/leads').send(lead).expect(201)).body as { id: number }).id;
}
const tagsOf = async (id: number): Promise<string> => {
  const { values } = (await admin.get(`/api/leads/${id}`)).body as { values: { field: string; shown: string }[] };
  return values.find(({ field }) => field === 'tags')?.shown ?? '';
};
const tag = (by: Agent, ids: number[], add: string[], remove: string[] = []) =>
  by.post('/api/leads/tags').send({ ids, add, remove });
const listed = async (when: object): Promise<number[]> => {
  const answer = await admin
    .get('/api/leads')
    .query({ when: JSON.stringify(when), status: 'any' })
    .expect(200);
  return (answer.body as { rows: { id: number }[] }).rows.map(({ id }) => id).sort((a, b) => a - b);
};
const tags = { kind: 'field', field: 'tags' };

test('a word that differs only in case is the same tag, in the spelling that came first', async () => {
  const [a, b] = [await bring({ tags: 'Coast Fair' }), await bring()];
  expect((await tag(admin, [a, b], ['COAST FAIR', 'Pilot'])).body).toEqual({ changed: 2, unchanged: 0, refused: 0 });
  expect([await tagsOf(a), await tagsOf(b)]).toEqual(['Coast Fair; Pilot', 'Coast Fair; Pilot']);
  expect((await tag(admin, [a, b], ['pilot'])).body).toMatchObject({ changed: 0, unchanged: 2 });
  await tag(admin, [b], [], ['coast fair']);
  expect(await tagsOf(b)).toBe('Pilot');
  expect(await listed({ test: 'any-of', subject: tags, values: ['coast FAIR'] })).toEqual([a]);
  expect(await listed({ test: 'all-of', subject: tags, values: ['Pilot', 'Coast Fair'] })).toEqual([a]);
  const fields = await admin.get('/api/fields');
  expect((fields.body as { key: string }[]).find(({ key }) => key === 'tags')).toMatchObject({
    options: ['Coast Fair', 'Pilot'],
    filled: 2,
  });
});

test('each lead that changes is decided once and has it in its history; leads that are not one’s own stay', async () => {
  const [own, other] = [await bring({}, 'ada'), await bring({}, 'dee')];
  const ada = await server.as('ada');
  expect((await tag(ada, [own, other, 999_999], ['Mine'])).body).toEqual({ changed: 1, unchanged: 0, refused: 2 });
  expect([await tagsOf(own), await tagsOf(other)]).toEqual(['Mine', '']);
  const { history } = (await admin.get(`/api/leads/${own}`)).body as {
    history: { field: string; cause: string; by: string }[];
  };
  expect(history.filter(({ field }) => field === 'tags')).toMatchObject([{ cause: 'hand', by: 'Ada Lindqvist' }]);
});

test('companies and contacts are tagged many at once as leads are: in the spelling that came first, each once in its history, and only those one may edit', async () => {
  const [own, other] = [
    await bring({ email: 'o@gmx.net', company: 'Fjord' }, 'ada'),
    await bring({ email: 'p@gmx.net', company: 'Elv' }, 'dee'),
  ];
  await bring({ tags: 'Coast Walk' });
  const tiesOf = async (id: number) => ((await admin.get(`/api/leads/${id}`)).body as LeadDetail).ties;
  const [mine, theirs] = [await tiesOf(own), await tiesOf(other)];
  const companies = [mine.company?.id ?? 0, theirs.company?.id ?? 0, 999_999];
  const ada = await server.as('ada');
  const put = (by: Agent, kind: string, ids: number[], add: string[], remove: string[] = []) =>
    by.post(`/api/${kind}/tags`).send({ ids, add, remove }).expect(200);
  expect((await put(ada, 'companies', companies, ['COAST WALK'])).body).toEqual({
    changed: 1,
    unchanged: 0,
    refused: 2,
  });
  expect((await put(admin, 'companies', companies, ['coast walk', 'Key'])).body).toMatchObject({
    changed: 2,
    refused: 1,
  });
  expect((await put(admin, 'companies', companies, ['key'])).body).toMatchObject({ changed: 0, unchanged: 2 });
  const shown = async (path: string) => {
    const { values, history } = (await admin.get(path)).body as RecordDetail;
    const tags = values.find(({ field }) => field.endsWith('.tags'));
    return [tags?.shown, tags?.byHand, history.filter(({ field }) => field.endsWith('.tags')).map(({ by }) => by)];
  };
  expect(await shown(`/api/companies/${companies[0]}`)).toEqual([
    'Coast Walk; Key',
    true,
    ['Runa Admin', 'Ada Lindqvist'],
  ]);
  await put(admin, 'companies', companies, ['Key'], ['coast walk', 'KEY']);
  expect((await shown(`/api/companies/${companies[1]}`))[0]).toBe('Key');
  await put(admin, 'contacts', [mine.contact?.id ?? 0], ['Speaker']);
  expect((await shown(`/api/contacts/${mine.contact?.id ?? 0}`))[0]).toBe('Speaker');
  await admin
    .post('/api/deals/tags')
    .send({ ids: [], add: ['x'], remove: [] })
    .expect(422);
});

test('servers that learn the same words at once keep each once', async () => {
  const ids = await Promise.all(Array.from({ length: 6 }, () => bring()));
  const answers = await Promise.all(ids.map((id, i) => tag(admin, [id], i % 2 ? ['Tide', 'Ebb'] : ['ebb', 'TIDE'])));
  expect(answers.map(({ status }) => status)).toEqual(ids.map(() => 200));
  const known = await server.source.query<{ word: string }[]>("SELECT word FROM tag WHERE folded IN ('tide', 'ebb')");
  expect(known).toHaveLength(2);
});

test('more options than the searched column holds are still asked for one by one', async () => {
  const words = Array.from({ length: 40 }, (_, i) => `long word number ${i}`);
  const id = await bring({ tags: words });
  expect(await listed({ test: 'all-of', subject: tags, values: [words[0], words[39]] })).toEqual([id]);
  expect(await listed({ test: 'any-of', subject: tags, values: ['long word number 4', 'long word'] })).toEqual([id]);
  expect(await listed({ test: 'any-of', subject: tags, values: ['long word'] })).toEqual([]);
});

test.each([
  [{ ids: [], add: ['a'], remove: [] }, '/ids'],
  [{ ids: [1], add: [], remove: [] }, ''],
  [{ ids: [1], add: ['a;b'], remove: [] }, '/add/0'],
  [{ ids: [1], add: ['x'.repeat(191)], remove: [] }, '/add/0'],
])('%j is refused at its place', async (body, path) => {
  const answer = await admin.post('/api/leads/tags').send(body).expect(422);
  expect((answer.body as { errors: { path: string }[] }).errors.map((one) => one.path)).toContain(path);
});

test('an option that is retired stays where it is, can be looked for, and is not taken any more', async () => {
  const field = { key: 'topics', name: 'Topics', type: 'choices', options: ['Pumps', 'Valves'], personal: false };
  await admin.post('/api/fields').send(field).expect(201);
  const id = await bring({ topics: ['Valves', 'pumps'] });
  const change = { name: 'Topics', options: ['Pumps'], retired: false };
  const fields = await admin.patch('/api/fields/topics').send(change);
  expect((fields.body as { key: string }[]).find(({ key }) => key === 'topics')).toMatchObject({
    options: ['Pumps'],
    retiredOptions: ['Valves'],
  });
  const subject = { kind: 'field', field: 'topics' };
  expect(await listed({ test: 'any-of', subject, values: ['Valves'] })).toEqual([id]);
  // Who edits the others does not lose it, and it can be taken out.
  const edit = async (raw: string): Promise<unknown> => {
    const { version } = (await admin.get(`/api/leads/${id}`)).body as { version: number };
    const after = await admin
      .patch(`/api/leads/${id}`)
      .send({ version, values: { topics: raw } })
      .expect(200);
    return (after.body as { values: { field: string }[] }).values.find((one) => one.field === 'topics');
  };
  expect(await edit('valves')).toMatchObject({ shown: 'Valves', unreadable: null });
  expect(await edit('Pumps; Valves')).toMatchObject({ shown: 'Pumps; Valves', unreadable: null });
  const later = await admin.post('/api/leads').send({ values: { email: 'z@firm.example', topics: 'Valves' } });
  expect((later.body as { warnings: object[] }).warnings).toMatchObject([{ field: 'topics' }]);
});
