import type { LeadDetail, RecordDetail } from '@relvik/contracts';
import type { QueryRunner } from 'typeorm';
import type { Agent } from 'supertest';
import { setTimeout as pause } from 'node:timers/promises';
import { withKeyAccountGate } from '../fixture/key-account-gate.fixture';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
let other: QueryRunner;
beforeEach(async () => {
  server = await SmallServer.start(withKeyAccountGate);
  admin = await server.as('admin');
  other = server.source.createQueryRunner();
});
afterEach(async () => {
  await other.release();
  await server.stop();
});

const bring = async (email: string): Promise<LeadDetail> => {
  const values = { email, company: 'Fjord', country: 'DE' };
  const { id } = (await admin.post('/api/leads').send({ values }).expect(201)).body as { id: number };
  return (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
};

/** Lets a lead come in while another transaction holds its company, changes it, and commits a moment later. */
async function whileHeld(company: number, change: () => Promise<unknown>): Promise<LeadDetail> {
  await other.startTransaction();
  await other.query('SELECT id FROM company WHERE id = ? FOR UPDATE', [company]);
  await change();
  const coming = bring('b@fjord.example');
  await pause(400);
  await other.commitTransaction();
  return coming;
}

test('a lead that comes in while its company is being edited is decided by what the company is then', async () => {
  const { ties } = await bring('a@fjord.example');
  const company = ties.company?.id ?? 0;
  const lead = await whileHeld(company, () =>
    other.query(
      "INSERT INTO field_value (record, field, kind, shown, folded, number) VALUES (?, 'company.key_account', 'yes-no', 'yes', 'yes', 1)",
      [company],
    ),
  );
  expect([lead.ties.company?.id, lead.stage]).toEqual([company, 'qualified']);
});

test('a lead that comes in while its company is joined into another comes under the one that stays', async () => {
  const { ties } = await bring('a@fjord.example');
  const younger = ties.company?.id ?? 0;
  const stays = (
    await admin
      .post('/api/companies')
      .send({ values: { 'company.name': 'Fjord Holding' } })
      .expect(201)
  ).body as RecordDetail;
  const lead = await whileHeld(younger, async () => {
    await other.query('UPDATE company_key SET company = ? WHERE company = ?', [stays.id, younger]);
    await other.query('UPDATE `lead` SET company_id = ? WHERE company_id = ?', [stays.id, younger]);
    await other.query('DELETE FROM company WHERE id = ?', [younger]);
  });
  expect(lead.ties.company).toEqual({ id: stays.id, name: 'Fjord Holding' });
});
