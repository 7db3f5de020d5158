import type { PopulationAnswer } from '@relvik/contracts';
import { encodePopulation, type FieldTest, Rates, readWorld, Resident, Sweep } from '@relvik/core';
import { populationFromArrow } from '@relvik/formats';
import type { Agent } from 'supertest';
import { SmallServer } from '../api/small-server.fixture';
import { readGoverning } from '../charter/charter-store';
import { insertRows } from '../decide/write-decisions';
import { ActivityEntity } from '../record/history.entity';
import { LeadEntity } from '../record/lead.entity';
import { loadLeads } from '../record/lead-store';

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
  }));
  const expected = encodePopulation(records, governing.world.fields, governing.world.rates, 'EUR');
  for (const part of ['ids', 'arrived', 'closed', 'touched', 'events'] as const)
    expect([part, population[part]]).toEqual([part, expected[part]]);
  for (const reading of [{ kind: 'came-in' }, { kind: 'on-enact', reach: 'routes' }] as const) {
    const swept = (one: typeof population) => {
      const { scores, stages, outcome, territory } = new Sweep(
        new Resident(one, meta.asOf, 'Europe/Oslo'),
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
  const tests: FieldTest[] = [
    { test: 'starts-with', field: 'email', values: ['p1'] },
    { test: 'contains', field: 'name', values: ['PERSON 1'] },
  ];
  const answers = (await admin.post('/api/population/tests').send({ tests })).body as PopulationAnswer[];
  const byName = await server.source.query<{ id: number }[]>(
    "SELECT id FROM `lead` WHERE name LIKE 'Person 1%' ORDER BY id",
  );
  expect(answers[1]?.yes).toEqual(byName.map(({ id }) => id));
  const byMail = await server.source.query<{ id: number }[]>(
    "SELECT id FROM `lead` WHERE email LIKE 'p1%' ORDER BY id",
  );
  expect(answers[0]?.yes).toEqual(byMail.map(({ id }) => id));
  expect(
    (await admin.post('/api/population/tests').send({ tests: [{ test: 'like', field: 'name' }] })).body,
  ).toMatchObject({ status: 422, errors: [{ path: '/tests/0/test' }] });
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
