import type { FieldRow, LeadPage, LeadRow, SavedView, UnjudgedRow, WordingDocument } from '@relvik/contracts';
import {
  bindCondition,
  type Charter,
  NAMED_SUBJECTS,
  type Condition,
  judge,
  GatheredFacts,
  readableIn,
  type ReadyCharter,
  type ScoreSet,
  Spot,
  type Subject,
} from '@relvik/core';
import { readCsv } from '@relvik/formats';
import fc from 'fast-check';
import { In } from 'typeorm';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { readGoverning } from '../store/governing';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { loadLeads } from '../store/load-leads';

/** A second set with bands of its own; whom it does not admit either has no score; of a mill nobody knows whose it is. */
function twoSets(charter: Charter): Charter {
  const [first] = charter.scoreSets as readonly [ScoreSet];
  const second: ScoreSet = {
    ...first,
    key: 'rest',
    name: 'The rest',
    when: {
      test: 'range',
      subject: { kind: 'field', field: 'employees' },
      from: { at: '5', included: true },
      to: null,
    },
    signals: first.signals.map((signal) => ({ ...signal, key: `rest-${signal.key}` })),
    grid: { ...first.grid, fit: { bands: ['low', 'b', 'high'].map((key) => ({ key, name: key })), cuts: [40, 70] } },
  };
  const when: Condition = {
    test: 'one-of',
    subject: { kind: 'field', field: 'industry' },
    values: ['Brewery', 'Fish farm', 'Golf course'],
  };
  return { ...charter, scoreSets: [{ ...first, when }, second] };
}

const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;
const pick = (list: readonly string[], i: number) => list[i % list.length] ?? '';
let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start(twoSets);
  admin = await server.as('admin');
  for (let i = 0; i < 90; i += 1)
    await server.writer.accept({
      cause: { kind: pick(['csv', 'api'], i) as 'csv' | 'api', name: 'test' },
      // Over three days; what stays below is told apart by the millisecond.
      at: new Date(server.now.getTime() - ((i * 47) % 90) * 50 * MINUTE + i),
      values: {
        email: `${pick(['a', 'b_', 'c%'], i)}${i}@v.example`,
        name: `Lead ${i}`,
        industry: pick(['Brewery', 'Fish farm', '', 'Golf course', 'Mill'], i),
        employees: pick(['5', '50', '49.5', 'many', '600', ''], i),
        country: pick(['NO', 'DE', 'Malta', '', 'Atlantis'], i),
        deal_value: pick(['20000 EUR', '200000 NOK', '', '19999.99 EUR', '235294.11 NOK', '235294 NOK', '5 XAU'], i),
      },
      owner: null,
      trusted: true,
    });
  // Activities at both sides of the end of a window, and in the future.
  const ids = (await server.source.manager.find(LeadEntity, { select: { id: true } })).map(({ id }) => id);
  const did = ids.flatMap((record, i) =>
    [2 * DAY - MINUTE, 2 * DAY, 5 * MINUTE, -5 * MINUTE].flatMap((before, k) =>
      (i + k) % 3 === 0
        ? []
        : [
            {
              record,
              kind: pick(['mail_clicked', 'page_visited', 'mail_sent'], i + k),
              at: new Date(server.now.getTime() - before),
              properties: i % 2 === 0 ? null : { page: pick(['/PRICING', '/about'], i + k) },
            },
          ],
    ),
  );
  await server.source.manager.insert(ActivityEntity, did);
});
afterAll(() => server.stop());

async function list(query: Record<string, string>, as = admin): Promise<LeadRow[]> {
  const rows: LeadRow[] = [];
  for (let after: string | null = ''; after !== null;) {
    const answer = await as
      .get('/api/leads')
      .query({ status: 'any', size: '40', ...query, ...(after ? { after } : {}) });
    expect([answer.status, answer.status === 200 ? null : (answer.body as object)]).toEqual([200, null]);
    const page = answer.body as LeadPage;
    rows.push(...page.rows);
    after = page.next;
  }
  return rows;
}

const PRICING = [{ property: 'page', test: 'contains' as const, values: ['Pric'] }];
const about = (key: string): Subject => NAMED_SUBJECTS.get(key) ?? { kind: 'field', field: key };
const end = (values: readonly number[]) =>
  fc.option(fc.record({ at: fc.constantFrom(...values.map(String)), included: fc.boolean() }));
const range = (field: string, ...values: number[]): fc.Arbitrary<Condition> => span(about(field), ...values);
const span = (subject: Subject, ...values: number[]): fc.Arbitrary<Condition> =>
  fc
    .tuple(end(values), end(values))
    .filter(([from, to]) => (from === null ? to !== null : to === null || Number(from.at) < Number(to.at)))
    .map(([from, to]) => ({ test: 'range', subject, from, to }));
const texts = (field: string, ...values: string[]): fc.Arbitrary<Condition> =>
  fc
    .tuple(
      fc.constantFrom('contains' as const, 'starts-with' as const, 'ends-with' as const),
      fc.subarray(values, { minLength: 1 }),
    )
    .map(([test, some]) => ({ test, subject: about(field), values: some }));
const oneOf = (field: string, ...values: string[]): fc.Arbitrary<Condition> =>
  fc.subarray(values, { minLength: 1 }).map((some) => ({ test: 'one-of', subject: about(field), values: some }));
const leaf: fc.Arbitrary<Condition> = fc.oneof(
  range('employees', 5, 49.5, 50, 600),
  range('deal_value', 17000, 19999.99, 20000, 20000.01),
  range('fit', 0, 40, 50, 74),
  range('rank', 0, 50, 80),
  oneOf('industry', 'brewery', 'Fish farm', 'Golf course'),
  oneOf('country', 'Norway', 'DE', 'Malta'),
  oneOf('fit_band', 'a', 'b', 'high'),
  oneOf('engagement_band', 'quiet'),
  oneOf('verdict', 'hand-over', 'no-action'),
  oneOf('stage', 'qualified', 'new'),
  oneOf('territory', 'nordics', 'dach'),
  texts('email', 'b_', 'c%', '1', '@V.example'),
  texts('industry', 'farm', 'B'),
  span({ kind: 'amount', field: 'deal_value' }, 17000, 20000, 200000),
  span({ kind: 'happened', activity: 'mail_clicked', having: [], within: 2 }, 0, 1, 2),
  span({ kind: 'happened', activity: 'page_visited', having: PRICING, within: null }, 0, 1),
  span({ kind: 'days-in-stage' }, 0, 1, 3),
  span({ kind: 'days-since', day: { kind: 'arrived' } }, 0, 1, 3),
  span({ kind: 'days-since', day: { kind: 'last-activity' } }, 0, 1, 3),
  span({ kind: 'set-score', set: 'leads', axis: 'fit' }, 0, 40, 74),
  span({ kind: 'set-score', set: 'rest', axis: 'rank' }, 0, 50, 80),
  oneOf('way_in', 'api', 'hand'),
  oneOf('owner', 'ada', 'bo'),
  fc.constantFrom<Condition>(
    { test: 'blank', subject: { kind: 'owner' } },
    { test: 'blank', subject: { kind: 'last-activity' } },
    { test: 'one-of', subject: { kind: 'currency', field: 'deal_value' }, values: ['NOK'] },
    { test: 'blank', subject: { kind: 'field', field: 'deal_value' } },
    { test: 'blank', subject: { kind: 'territory' } },
    { test: 'blank', subject: { kind: 'band', axis: 'fit' } },
  ),
);
const condition = fc.letrec<{ any: Condition }>((tie) => ({
  any: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    leaf,
    fc
      .tuple(fc.constantFrom('all' as const, 'any' as const), fc.array(tie('any'), { maxLength: 3 }))
      .map(([test, of]): Condition => ({ test, of })),
    tie('any').map((of): Condition => ({ test: 'not', of })),
  ),
})).any;

/** What `judge` says of each lead as it is stored. */
async function judged(when: Condition, ready: ReadyCharter): Promise<number[]> {
  const { manager } = server.source;
  const { world } = await readGoverning(manager, 'none');
  const bound = bindCondition(when, readableIn(ready.charter, world, 'list', 'lead'), Spot.root([]));
  const ids = (await manager.find(LeadEntity, { select: { id: true } })).map(({ id }) => id);
  const leads = await loadLeads(manager, ids, 'none');
  const sides = await manager.find(SideScoreEntity);
  return leads.flatMap(({ entity, record }) => {
    const scoreOf = (score: number | null) =>
      score === null
        ? { judged: false as const, fields: [] }
        : { judged: true as const, positive: 0, negative: 0, sum: score, score };
    const grade =
      entity.fitBand === null || entity.engagementBand === null || entity.verdict === null
        ? null
        : {
            fit: 0,
            engagement: 0,
            bands: { fit: entity.fitBand, engagement: entity.engagementBand },
            verdict: entity.verdict,
            name: '',
          };
    const facts = GatheredFacts.of(record, world, ready, server.now.getTime())
      .withScore(
        {
          admitted: entity.admitted,
          set: entity.scoreSet,
          fit: scoreOf(entity.fit),
          engagement: scoreOf(entity.engagement),
          signals: [],
          held: [],
          beside: sides
            .filter((side) => side.record === entity.id)
            .map((side) => ({
              set: side.scoreSet,
              fit: scoreOf(side.fit),
              engagement: scoreOf(side.engagement),
              signals: [],
              held: [],
            })),
        },
        grade,
      )
      .withStage(entity.stage as never, false)
      .withTerritory(
        entity.territory === null
          ? { found: 'no-address' }
          : { found: 'covered', territory: entity.territory as never },
      );
    return judge(bound, facts) === 'yes' ? [entity.id] : [];
  });
}

test('a condition over a list gives just the leads that judge says yes to, negated and nested, unjudged and blank', async () => {
  const { ready } = await readGoverning(server.source.manager, 'none');
  let some = 0;
  await fc.assert(
    fc.asyncProperty(condition, async (when) => {
      const found = (await list({ when: JSON.stringify(when) })).map(({ id }) => id).sort((a, b) => a - b);
      const expected = (await judged(when, ready)).sort((a, b) => a - b);
      if (expected.length > 0 && expected.length < 90) some += 1;
      expect(found).toEqual(expected);
    }),
    { numRuns: 150 },
  );
  expect(some).toBeGreaterThan(60);
});

test.each(['rank', 'fit', 'engagement', 'newest', 'oldest'])(
  'by %s, pages put together give each lead once, in order, those without a score last',
  async (order) => {
    const rows = await list({ order, size: '7' });
    expect(new Set(rows.map(({ id }) => id)).size).toBe(90);
    const keyOf = (row: LeadRow): number =>
      order === 'newest' ? row.arrived : order === 'oldest' ? -row.arrived : (row[order as 'rank'] ?? -Infinity);
    const keys = rows.map(keyOf);
    expect(keys).toEqual([...keys].sort((a, b) => b - a));
  },
);

test('a condition that can’t be read is named by its place', async () => {
  const ask = async (when: string) => (await admin.get('/api/leads').query({ when })).body as object;
  expect(await ask('{"test":')).toMatchObject({ errors: [{ path: '/when', message: 'is no JSON' }] });
  for (const kind of ['days-in-stage', 'days-since'])
    expect(
      await ask(
        JSON.stringify({
          test: 'range',
          subject: kind === 'days-since' ? { kind, day: { kind: 'arrived' } } : { kind },
          from: { at: '999999999999', included: true },
        }),
      ),
    ).toMatchObject({ status: 422, errors: [{ path: '/when/from/at' }] });
  expect(await ask('{"test":"blank","field":"moon"}')).toMatchObject({ errors: [{ path: '/when/subject/field' }] });
});

test('as a file: the columns that are seen, under their names, only of leads in sight, with formulas defused', async () => {
  await admin
    .post('/api/leads')
    .send({ values: { email: 'f@v.example', name: '=1+1', industry: 'Brewery' }, owner: 'dee' });
  const query = {
    status: 'any',
    columns: 'rank,field:industry,place',
    when: '{"test":"is","field":"industry","value":"Brewery"}',
  };
  const file = async (agent: Agent) => readCsv((await agent.get('/api/leads.csv').query(query)).text);
  const all = await file(admin);
  if (!all.ok) throw new Error('the file can be read');
  expect(all.table.header).toEqual(['Id', 'Lead', 'Rank', 'Industry', 'Where it is']);
  expect(all.table.rows).toHaveLength((await list({ when: query.when })).length);
  expect(all.table.rows.find((row) => row[1]?.endsWith('=1+1'))?.slice(1)).toEqual([
    "'=1+1",
    '60',
    'Brewery',
    'Dee Winslade',
  ]);
  // Beyond a page, and without end: each once, under one header.
  const many = Array.from({ length: 230 }, (_, i) => [`csv${i}@v.example`, `Row ${i}`]);
  await server.importFile(admin, ['email,name', ...many.map((row) => row.join())].join('\n'));
  const whole = readCsv((await admin.get('/api/leads.csv').query({ status: 'any', find: 'Row' })).text);
  expect(whole.ok && new Set(whole.table.rows.map(([id]) => id)).size).toBe(230);
  const seen = await file(await server.as('ada'));
  expect(seen.ok && seen.table.rows.length).toBe((await list({ when: query.when }, await server.as('ada'))).length);
});

test('views are private or shared; others’ can be opened, not changed, and an admin takes shared ones away', async () => {
  const ada = await server.as('ada');
  const bo = await server.as('bo');
  const view = { name: 'Hot breweries', shared: false, query: { stage: 'qualified', least: '50' } };
  const [own] = (await ada.post('/api/views').send(view)).body as SavedView[];
  expect(own).toMatchObject({ ...view, own: true, by: 'Ada Lindqvist' });
  expect((await bo.get('/api/views')).body).toEqual([]);
  expect((await bo.delete(`/api/views/${own?.id ?? 0}`)).status).toBe(404);
  await ada.put(`/api/views/${own?.id ?? 0}`).send({ ...view, shared: true });
  expect((await bo.get('/api/views')).body).toMatchObject([{ name: 'Hot breweries', own: false }]);
  expect((await bo.delete(`/api/views/${own?.id ?? 0}`)).status).toBe(403);
  expect((await admin.delete(`/api/views/${own?.id ?? 0}`)).body).toEqual([]);
  const wrong = await ada.post('/api/views').send({ ...view, query: { after: 'x' } });
  expect([wrong.status, wrong.body]).toMatchObject([422, { errors: [{ path: '/query' }] }]);
});

test('fields that the admin adds are usable at once; what the charter in force needs can’t be retired', async () => {
  const added = await admin
    .post('/api/fields')
    .send({ key: 'pond', name: 'Pond', type: 'choice', options: ['Lined', 'Earth'] });
  expect(added.status).toBe(201);
  const id = (
    (await admin.post('/api/leads').send({ values: { email: 'pond@v.example', pond: 'lined' } })).body as { id: number }
  ).id;
  expect(
    (await list({ when: '{"test":"is","field":"pond","value":"Lined"}', columns: 'field:pond' })).map((row) => [
      row.id,
      row.values,
    ]),
  ).toEqual([[id, { pond: 'Lined' }]]);
  expect(((await admin.get('/api/wording')).body as WordingDocument).fields.at(-1)).toMatchObject({ key: 'pond' });
  const refuse = async (key: string, body: object) =>
    (await admin.patch(`/api/fields/${key}`).send(body)).body as object;
  expect(await refuse('employees', { name: 'Employees', options: [], retired: true })).toMatchObject({
    status: 409,
    title: 'The charter in force needs it',
  });
  expect(await refuse('pond', { name: 'Pond', options: ['x', 'x'], retired: false })).toMatchObject({
    errors: [{ path: '/options', message: 'has an option twice' }],
  });
  await admin.patch('/api/fields/pond').send({ name: 'Pond', options: ['Lined'], retired: true });
  const refused = await admin.post('/api/leads').send({ values: { email: 'x@v.example', pond: 'Lined' } });
  expect(refused.body).toMatchObject({ errors: [{ path: '/values/pond', message: 'is no field' }] });
  for (const key of ['rank', 'pond'])
    expect((await admin.post('/api/fields').send({ key, name: 'R', type: 'text', options: [] })).status).toBe(422);
  expect(((await admin.get('/api/fields')).body as FieldRow[]).find(({ key }) => key === 'pond')).toMatchObject({
    filled: 1,
    retired: true,
  });
});

test('what can’t be judged stands by field and raw value, and is corrected together; each lead is decided again', async () => {
  const rows = async () => (await admin.get('/api/unjudged')).body as UnjudgedRow[];
  const many = (await rows()).find((row) => row.field === 'employees' && row.raw === 'many');
  expect(many).toMatchObject({ why: 'is not a number', leads: 15, inBay: 15 });
  expect(await rows()).toContainEqual(
    expect.objectContaining({ field: 'deal_value', raw: 'XAU', why: 'has no rate for XAU', rateFrom: '2026-02-27' }),
  );
  const correct = (value: string) => admin.post('/api/unjudged').send({ field: 'employees', raw: 'many', value });
  expect((await correct('lots')).body).toMatchObject({
    status: 422,
    errors: [{ path: '/value', message: 'is not a number' }],
  });
  expect((await correct('60')).body).toMatchObject({ corrected: 15 });
  expect((await rows()).filter((row) => row.raw === 'many')).toEqual([]);
  const ids = many?.some.map(({ id }) => id) ?? [];
  for (const lead of await server.source.manager.findBy(LeadEntity, { id: In(ids) }))
    expect(JSON.stringify(lead.bay)).not.toContain('employees');
});

test('amounts in a currency without a rate are one row; the rate lets those who waited for it leave the bay', async () => {
  const rows = async () => (await admin.get('/api/unjudged')).body as UnjudgedRow[];
  const gold = (await rows()).find(({ raw }) => raw === 'XAU');
  expect(gold?.inBay).toBeGreaterThan(0);
  const give = async (rate: string) =>
    (await admin.post('/api/rates').send({ currency: 'XAU', from: gold?.rateFrom, rate })).body as object;
  expect(await give('-1')).toMatchObject({ status: 422, errors: [{ path: '/rate' }] });
  expect(await give('2300.5')).toMatchObject({ due: expect.any(Number) as number });
  expect(await give('2300.6')).toMatchObject({ status: 422, errors: [{ path: '/from' }] });
  expect((await rows()).find(({ raw }) => raw === 'XAU')).toBeUndefined();
  const waiting = await server.source.manager.findBy(LeadEntity, { place: 'bay' });
  expect(JSON.stringify(waiting.map(({ bay }) => bay))).not.toContain('deal_value');
});
