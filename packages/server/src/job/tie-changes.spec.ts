import type { BackgroundState, LeadDetail, RecordDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { withKeyAccountGate } from '../fixture/key-account-gate.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { TieDueEntity } from '../store/entity/tie-due.entity';
import { followTies } from './tie-changes';

let server: SmallServer;
let admin: Agent;
let leads: number[];
let company: number;
beforeEach(async () => {
  server = await SmallServer.start(withKeyAccountGate);
  admin = await server.as('admin');
  leads = [];
  for (const name of ['a', 'b', 'c', 'd']) {
    const values = { email: `${name}@fjord.example`, company: 'Fjord', country: 'DE' };
    leads.push(((await admin.post('/api/leads').send({ values })).body as { id: number }).id);
  }
  company = (await lead(0)).ties.company?.id ?? 0;
});
afterEach(() => server.stop());

const lead = async (n: number) => (await admin.get(`/api/leads/${leads[n]!}`)).body as LeadDetail;
const stages = async () => Promise.all(leads.map(async (_, n) => (await lead(n)).stage));
const isKey = async (yes: 'yes' | 'no'): Promise<void> => {
  const { version } = (await admin.get(`/api/companies/${company}`)).body as RecordDetail;
  await admin
    .patch(`/api/companies/${company}`)
    .send({ version, values: { 'company.key_account': yes } })
    .expect(200);
};
const follow = () => followTies(server.source, server.now);
const due = async () => (await server.source.manager.find(TieDueEntity)).map(({ record }) => record);
const later = (minutes: number) => (server.now = new Date(server.now.getTime() + minutes * 60_000));

test('a lead that can’t be decided holds up no other of its company; it is tried again, and seen until it works', async () => {
  await server.source.query(
    `CREATE TRIGGER break_one BEFORE UPDATE ON \`lead\` FOR EACH ROW IF NEW.id = ${leads[1]!} THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'broken'; END IF`,
  );
  await isKey('yes');
  expect(await follow()).toBe(3);
  expect(await stages()).toEqual(['qualified', 'new', 'qualified', 'qualified']);
  expect(await due()).toEqual([leads[1]]);
  const { failures } = (await admin.get('/api/background')).body as BackgroundState;
  expect(failures).toMatchObject([{ work: 'ties', record: leads[1], tries: 1, error: 'broken' }]);
  // Not before its pause is over.
  expect(await follow()).toBe(0);
  await server.source.query('DROP TRIGGER break_one');
  later(3);
  expect(await follow()).toBe(1);
  expect(await stages()).toEqual(['qualified', 'qualified', 'qualified', 'qualified']);
  expect([await due(), ((await admin.get('/api/background')).body as BackgroundState).failures]).toEqual([[], []]);
});

test('a company that changes twice before its leads are decided decides each once, by what it is then', async () => {
  await isKey('yes');
  await isKey('no');
  expect(await follow()).toBe(4);
  expect(await stages()).toEqual(['new', 'new', 'new', 'new']);
  // What no condition asks of the company decides nothing again.
  const { version } = (await admin.get(`/api/companies/${company}`)).body as RecordDetail;
  await admin
    .patch(`/api/companies/${company}`)
    .send({ version, values: { 'company.employees': '80' } })
    .expect(200);
  expect([await due(), await follow()]).toEqual([[], 0]);
});

test('a closed lead keeps what it closed with, and is no longer due', async () => {
  await isKey('yes');
  await admin.post(`/api/leads/${leads[0]!}/close`).send({ outcome: 'lost', reason: 'no budget' }).expect(200);
  expect(await follow()).toBe(3);
  expect((await stages())[0]).toBe('new');
  expect(await due()).toEqual([]);
});
