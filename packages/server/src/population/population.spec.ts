import type { DeskAnswer, PopulationState, ProblemDocument } from '@relvik/contracts';
import {
  type Charter,
  encodePopulation,
  type Found,
  type Lookup,
  ImpactDesk,
  Rates,
  readWorld,
  Resident,
  Sweep,
} from '@relvik/core';
import { populationFromArrow } from '@relvik/formats';
import { join } from 'node:path';
import type { Agent } from 'supertest';
import { withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { SMALL_CHARTER } from '../fixture/small-world.fixture';
import { readGoverning } from '../store/governing';
import { testAccess } from '../fixture/test-database.fixture';
import { insertRows } from '../store/rows';
import { PersonEntity } from '../store/entity/people.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads } from '../store/load-leads';
import { FarDesk } from './far-desk';
import { readPopulation } from './read-population';

/** A draft that moves grades. */
const edited = (): Charter =>
  withSets(SMALL_CHARTER, (set) => ({
    ...set,
    signals: set.signals.map((signal) =>
      signal.kind === 'attribute' ? { ...signal, points: signal.points / 2 } : signal,
    ),
  }));

let server: SmallServer;
let admin: Agent;
const LONG = `Ein sehr langer Name ${'ß'.repeat(220)} Ende`;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const industries = ['Brewery', 'Fish farm', 'Golf course', 'Mill', ''];
  for (let i = 0; i < 70; i += 1) {
    const values = {
      name: `Person ${i}`,
      company: i === 3 ? LONG : i % 4 === 0 ? '' : `Firm ${i % 7}`,
      email: i % 9 === 0 ? '' : `p${i}@${i % 3 === 0 ? 'mail' : 'firm'}.example`,
      industry: industries[i % industries.length],
      employees: i % 11 === 0 ? 'about 50' : String((i * 37) % 120),
      country: ['NO', 'Sweden', 'Germany', 'Atlantis', ''][i % 5],
      deal_value: ['20000 EUR', '5 NOK', '100 GBP', 'much', ''][i % 5],
    };
    const { id } = (await admin.post('/api/leads').send({ values })).body as { id: number };
    await insertRows(
      server.source.manager,
      ActivityEntity,
      Array.from({ length: i % 4 }, (_, a) => ({
        record: id,
        kind: a === 2 ? 'mail_sent' : 'mail_clicked',
        at: new Date(server.now.getTime() - i * a * 3_600_001),
      })),
    );
    if (i % 10 === 0) await admin.post(`/api/leads/${id}/close`).send({ outcome: 'lost', reason: 'no' });
  }
});
afterAll(() => server.stop());

async function fetched() {
  const answer = await admin
    .get('/api/population')
    .buffer(true)
    .parse((response, done) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => done(null, Buffer.concat(parts)));
    });
  expect(answer.headers['content-type']).toContain('application/vnd.apache.arrow.stream');
  return populationFromArrow(new Uint8Array(answer.body as Buffer));
}

test('the population from SQL is that of the records, and a charter makes the same of both', async () => {
  const { manager } = server.source;
  const governing = await readGoverning(manager, 'none');
  const ids = (await manager.find(LeadEntity, { select: { id: true } })).map((lead) => lead.id);
  const stored = await loadLeads(manager, ids, 'none');
  const { population, meta } = await fetched();
  const records = stored.map(({ record, entity }) => ({
    record,
    closed: entity.closedAt?.getTime() ?? null,
    touched: entity.touchedAt.getTime(),
    charter: entity.charter,
  }));
  const expected = encodePopulation(records, governing.world.fields);
  for (const part of ['ids', 'arrived', 'closed', 'touched', 'events'] as const)
    expect([part, population[part]]).toEqual([part, expected[part]]);
  for (const reading of [{ kind: 'came-in' }, { kind: 'on-enact', reach: 'routes' }] as const) {
    const swept = (one: typeof population) => {
      const { scores, stages, outcome, territory } = new Sweep(
        new Resident(one, meta.asOf, governing.ready.charter, governing.world),
        reading,
      ).run(governing.ready);
      return [
        scores.fit,
        scores.engagement,
        scores.cell,
        stages,
        outcome,
        [...territory.codes].map((c) => territory.dictionary[c - 1]),
      ];
    };
    expect(swept(population)).toEqual(swept(expected));
  }
});

test('who it is stays on the server: no names, and of addresses only the domain; what reads them is answered by id', async () => {
  const { population } = await fetched();
  expect(population.columns.has('name')).toBe(false);
  const mail = population.columns.get('email');
  expect(mail?.kind === 'codes' && [...mail.dictionary].sort()).toEqual(['@firm.example', '@mail.example']);
  const company = population.columns.get('company');
  expect(
    company?.kind === 'codes' && company.dictionary.some((text) => text.endsWith('ss ende') && text.length > 400),
  ).toBe(true);
  const lookups: Lookup[] = [
    { of: 'test', test: { test: 'starts-with', subject: { kind: 'field', field: 'email' }, values: ['p1'] } },
    { of: 'test', test: { test: 'contains', subject: { kind: 'field', field: 'name' }, values: ['PERSON 1'] } },
  ];
  const answers = (await admin.post('/api/population/lookups').send({ lookups })).body as (Found & { of: 'test' })[];
  const byName = await server.source.query<{ id: number }[]>(
    "SELECT id FROM `lead` WHERE name LIKE 'Person 1%' ORDER BY id",
  );
  expect(answers[1]?.yes).toEqual(byName.map(({ id }) => id));
  const byMail = await server.source.query<{ id: number }[]>(
    "SELECT id FROM `lead` WHERE email LIKE 'p1%' ORDER BY id",
  );
  expect(answers[0]?.yes).toEqual(byMail.map(({ id }) => id));
  expect(
    (
      await admin
        .post('/api/population/lookups')
        .send({ lookups: [{ of: 'test', test: { test: 'like', field: 'name' } }] })
    ).body,
  ).toMatchObject({ status: 422, errors: [{ path: '/lookups/0/test/test' }] });
});

test('a field of one’s own that is personal stays on the server as well; what it is asked is answered by id', async () => {
  const field = { key: 'mobile', name: 'Mobile', type: 'text', options: [], personal: true };
  await admin.post('/api/fields').send(field).expect(201);
  const values = { email: 'mobile@m.example', mobile: '+47 555 01' };
  const { id } = (await admin.post('/api/leads').send({ values })).body as { id: number };
  const { population } = await fetched();
  expect([population.columns.has('mobile'), population.withheld.get('mobile')]).toEqual([false, 'all']);
  const lookups: Lookup[] = [
    { of: 'test', test: { test: 'starts-with', subject: { kind: 'field', field: 'mobile' }, values: ['+47'] } },
  ];
  const found = (await admin.post('/api/population/lookups').send({ lookups })).body as Found[];
  expect(found).toMatchObject([{ yes: [id] }]);
  await admin.patch('/api/fields/mobile').send({ name: 'Mobile', options: [], retired: false, personal: false });
  expect((await fetched()).population.columns.has('mobile')).toBe(true);
});

test('the version moves with each change, and the world around it can be read back', async () => {
  const version = async () => ((await admin.get('/api/population/version')).body as { version: string }).version;
  const before = await version();
  expect(await version()).toBe(before);
  await admin.post('/api/leads').send({ values: { email: 'late@p.example' } });
  expect(await version()).not.toBe(before);
  const reading = readWorld((await admin.get('/api/world')).body);
  expect(reading.ok && [...reading.world.reps.keys()].sort()).toEqual(expect.arrayContaining(['ada', 'bo']));
  expect(reading.ok && reading.world.rates).toBeInstanceOf(Rates);
});

test('beyond what a browser takes, the server answers the same as a desk over the population that it would have sent', async () => {
  const { population, meta } = await fetched();
  const reading = readWorld((await admin.get('/api/world')).body);
  if (!reading.ok) throw new Error('the world can be read');
  const near = new ImpactDesk(population, reading.world, meta.asOf, meta.past);
  const pair = { inForce: SMALL_CHARTER, draft: edited() };
  const ask = async (question: string, asks: object) => {
    const answer = await admin.post('/api/population/questions').send({ question, asks });
    return (answer.body as DeskAnswer).answer;
  };
  const state = (await admin.post('/api/population/desk').send({})).body as PopulationState;
  expect(state).toEqual({ asOf: meta.asOf, version: meta.version, size: population.size });
  const same = (answer: unknown): unknown => JSON.parse(JSON.stringify(answer));
  for (const how of [
    { kind: 'came-in' },
    { kind: 'on-enact', reach: 'routes', scope: { which: 'touched', months: 3 } },
  ] as const) {
    expect(await ask('impact', { pair, reading: how })).toEqual(same(near.impact(pair, how)));
    expect(await ask('owners', { pair, reading: how })).toEqual(same(near.owners(pair, how)));
  }
  expect(await ask('tally', { pair })).toEqual(same(near.tally(pair)));
  expect(await ask('values', { field: 'deal_value', base: 'NOK' })).toEqual(same(near.valuesOf('deal_value', 'NOK')));
  // The population withholds names: the server knows them.
  const condition = { test: 'starts-with', subject: { kind: 'field', field: 'name' }, values: ['Person 1'] };
  const [named] = await server.source.query<{ n: string }[]>(
    "SELECT COUNT(*) AS n FROM `lead` WHERE name LIKE 'Person 1%'",
  );
  expect(await ask('match', { pair, condition, place: 'route' })).toMatchObject({
    ok: true,
    answer: { yes: Number(named?.n) },
  });
});

test('the desk answers about the population it read, until it is asked to read again; people count at once', async () => {
  const load = async () => (await admin.post('/api/population/desk').send({})).body as PopulationState;
  const before = await load();
  await admin.post('/api/leads').send({ values: { email: 'later@p.example' } });
  const answer = await admin
    .post('/api/population/questions')
    .send({ question: 'values', asks: { field: 'industry', base: 'EUR' } });
  expect((answer.body as DeskAnswer).population).toEqual(before);
  expect((await load()).size).toBe(before.size + 1);
  const owners = async () => {
    const asks = { pair: { inForce: SMALL_CHARTER, draft: SMALL_CHARTER }, reading: { kind: 'came-in' } };
    const said = await admin.post('/api/population/questions').send({ question: 'owners', asks });
    return (said.body as { answer: { answer: { loads: { rep: string; limit: number | null }[] } } }).answer.answer
      .loads;
  };
  expect((await owners()).find(({ rep }) => rep === 'bo')?.limit).toBeNull();
  await server.source.manager.update(PersonEntity, 'bo', { takes: 1 });
  await load();
  expect((await owners()).find(({ rep }) => rep === 'bo')?.limit).toBe(1);
});

test.each([
  [{ question: 'guess', asks: {} }, '/question'],
  [{ question: 'impact', asks: { reading: { kind: 'came-in' } } }, '/asks/pair'],
  [{ question: 'impact', asks: { pair: { inForce: SMALL_CHARTER, draft: SMALL_CHARTER } } }, '/asks/reading'],
  [
    { question: 'owners', asks: { pair: { inForce: {}, draft: {} }, reading: { kind: 'on-enact', reach: 'moon' } } },
    '/asks/reading/reach',
  ],
  [{ question: 'match', asks: { pair: { inForce: SMALL_CHARTER, draft: SMALL_CHARTER } } }, '/asks/condition'],
  [{ question: 'values', asks: {} }, '/asks/field'],
])('a question that lacks what it needs, %j, is refused naming %s', async (question, path) => {
  const answer = await admin.post('/api/population/questions').send(question);
  expect(answer.status).toBe(422);
  expect((answer.body as ProblemDocument).errors?.map((error) => error.path)).toContain(path);
});

test('a draft that is no charter is answered with what is wrong in it', async () => {
  const pair = { inForce: SMALL_CHARTER, draft: { ...SMALL_CHARTER, version: 9 } };
  const answer = await admin.post('/api/population/questions').send({ question: 'tally', asks: { pair } });
  expect((answer.body as DeskAnswer).answer).toMatchObject({ ok: false, problems: [{ path: '/version' }] });
});

test('the desk in its thread answers likewise; when it dies who waits is told, and the next question begins another', async () => {
  const desk = new FarDesk(testAccess(), 'lead', join(__dirname, '../../dist/population/desk-thread.js'));
  const asks = { pair: { inForce: SMALL_CHARTER, draft: edited() } };
  const near = (await admin.post('/api/population/questions').send({ question: 'tally', asks })).body as DeskAnswer;
  const far = await desk.ask({ question: 'tally', asks });
  expect(far.answer).toEqual(near.answer);
  await expect(desk.ask({ question: 'impact', asks })).rejects.toMatchObject({ problem: { status: 422 } });
  // A thread that is ending answers nobody any more.
  const ended = desk.stop();
  await expect(desk.ask({ question: 'tally', asks })).rejects.toMatchObject({ problem: { status: 503 } });
  await ended;
  expect((await desk.load()).size).toBe(far.population.size);
  await desk.stop();
});

test('while leads come in, every population read is of one moment: no lead without its values, and the version is its own', async () => {
  const size = (await server.source.manager.count(LeadEntity)) + 1;
  const writing = (async () => {
    for (let i = 0; i < 40; i += 1)
      await admin
        .post('/api/leads')
        .send({ values: { email: `busy${i}@b.example`, industry: 'Brewery', country: 'NO' } });
  })();
  const seen = new Map<string, number>();
  for (let i = 0; i < 12; i += 1) {
    const { population, meta } = await readPopulation(server.source, server.now);
    for (const key of ['industry', 'email', 'country']) {
      const column = population.columns.get(key);
      const late = [...(column?.kind === 'codes' ? column.codes : [])].slice(size);
      expect([key, late.filter((code) => code === 0)]).toEqual([key, []]);
    }
    expect(seen.get(meta.version) ?? population.size).toBe(population.size);
    seen.set(meta.version, population.size);
  }
  await writing;
  expect(seen.size).toBeGreaterThan(1);
});
