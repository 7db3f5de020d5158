import type { ListOrder, LeadPage, LeadQuery, LeadRow } from '@relvik/contracts';
import seedrandom from 'seedrandom';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LIST_KINDS } from './list-kinds';
import { pageStatements } from './page';

let server: SmallServer;
let admin: Agent;
let all: LeadRow[];

async function list(query: Record<string, string | number>, as = admin): Promise<LeadRow[]> {
  const rows: LeadRow[] = [];
  for (let after: string | null | undefined; after !== null;) {
    const page = (await as.get('/api/leads').query({ ...query, ...(after ? { after } : {}) })).body as LeadPage;
    expect(page.rows.length).toBeLessThanOrEqual(Number(query['size'] ?? 50));
    rows.push(...page.rows);
    after = page.next;
  }
  return rows;
}

beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const random = seedrandom('list');
  const pick = (options: readonly string[]) => options[Math.floor(random() * options.length)] ?? '';
  for (let i = 0; i < 130; i += 1) {
    const values = {
      email: `p${i}@list.example`,
      name: `${pick(['Inga', 'Torvald', 'Åse'])} ${pick(['Solheim', 'Brattvik', "O'Dwyer"])}`,
      company: pick(['Fjelldal Brygg', 'Hopfenau Bräu', '100% Water']),
      industry: pick(['Brewery', 'Fish farm', 'Golf course', 'Mill', '']),
      employees: pick(['5', '50', '600', 'many']),
      country: pick(['NO', 'DE', 'Malta', '']),
    };
    await server.writer.accept({
      cause: { kind: 'csv' as const, name: 'test' },
      at: new Date(server.now.getTime() + Math.floor(i / 3) * 1000),
      values,
      owner: null,
      trusted: true,
    });
  }
  all = await list({ status: 'any', size: 100 });
});
afterAll(() => server.stop());

test('pages of any size put together give every lead once, in order; leads without a rank stand last', async () => {
  expect(new Set(all.map((row) => row.id)).size).toBe(130);
  for (const size of [7, 50]) expect(await list({ status: 'any', size })).toEqual(all);
  const ranks = all.map((row) => row.rank ?? -Infinity);
  expect(ranks).toEqual([...ranks].sort((a, b) => b - a));
  expect(ranks.at(-1)).toBe(-Infinity);
  const newest = (await list({ status: 'any', size: 9, order: 'newest' })).map((row) => [row.arrived, row.id]);
  expect(newest).toEqual([...newest].sort(([a = 0, i = 0], [b = 0, j = 0]) => b - a || j - i));
});

test.each<[Record<string, string | number>, (row: LeadRow) => boolean]>([
  [{ place: 'bay' }, (row) => row.place.kind === 'bay'],
  [{ owner: 'bo' }, (row) => row.place.kind === 'owner' && row.place.rep === ('bo' as never)],
  [{ queue: 'projects' }, (row) => row.place.kind === 'queue' && row.place.queue === ('projects' as never)],
  [{ stage: 'qualified' }, (row) => row.stage === 'qualified'],
  [{ territory: 'none' }, (row) => row.territory === null],
  [{ territory: 'dach' }, (row) => row.territory === 'dach'],
  [{ least: 70 }, (row) => (row.rank ?? -1) >= 70],
  [{ fit: 'b', engagement: 'quiet' }, (row) => row.grade === 'B quiet'],
  [{ find: 'inga sol' }, (row) => row.name === 'Inga Solheim'],
  [{ find: 'hopfenau' }, (row) => row.company === 'Hopfenau Bräu'],
  [{ find: "o'dwyer" }, (row) => row.name.endsWith("O'Dwyer")],
  [{ find: 'ÅSE' }, (row) => row.name.startsWith('Åse')],
  [{ find: '+-*"(@@' }, () => false],
  [
    { stage: 'qualified', territory: 'nordics', least: 60 },
    (row) => row.stage === 'qualified' && row.territory === 'nordics' && (row.rank ?? 0) >= 60,
  ],
])('the filter %j gives just those, and their number', async (query, fits) => {
  const expected = all.filter((row) => row.status === 'open' && fits(row)).map((row) => row.id);
  expect((await list({ ...query, size: 20 })).map((row) => row.id)).toEqual(expected);
  expect((await admin.get('/api/lead-count').query(query)).body).toEqual({ count: expected.length });
});

/** How many entries of indexes and rows the database takes up for one page. */
async function touchedFor(query: LeadQuery): Promise<number> {
  return server.source.transaction(async (manager) => {
    const statements = await pageStatements(manager, LIST_KINDS.lead, { all: true }, query, server.now);
    await manager.query('FLUSH STATUS');
    for (const [sql, parameters] of statements) await manager.query(sql, parameters);
    const counts = await manager.query<{ Value: string }[]>("SHOW SESSION STATUS LIKE 'Handler_read_%'");
    return counts.reduce((sum, { Value }) => sum + Number(Value), 0);
  });
}

test.each<ListOrder>(['rank', 'fit', 'engagement', 'newest', 'oldest'])(
  'in the order %s, a page begins at its mark, not at the top',
  async (order) => {
    const marks: string[] = [];
    for (let after: string | null | undefined; after !== null;) {
      const page = await admin.get('/api/leads').query({ order, size: 5, ...(after ? { after } : {}) });
      after = (page.body as LeadPage).next;
      if (after !== null) marks.push(after);
    }
    expect(marks.length).toBeGreaterThan(20);
    // Six entries of the index and six rows, and little beside.
    for (const after of marks) expect(await touchedFor({ order, size: 5, after })).toBeLessThan(15);
  },
);

test('a lead is found by the beginning of its e-mail, whatever the case', async () => {
  expect((await list({ find: 'P12@LIST' })).map((row) => row.name)).toHaveLength(1);
  expect(await list({ find: '%@list' })).toEqual([]);
});

test.each([
  [{ size: 1000 }, '/size'],
  [{ status: 'lost in the woods' }, '/status'],
  [{ after: 'nonsense' }, '/after'],
  [{ colour: 'red' }, ''],
])('the query %j is refused at %s', async (query, path) => {
  const answer = await admin.get('/api/leads').query(query);
  const { errors } = answer.body as { errors: { path: string }[] };
  expect([answer.status, errors.map((error) => error.path)]).toEqual([422, [path]]);
});
