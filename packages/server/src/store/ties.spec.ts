import { type Charter, readCharter } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { SMALL_CHARTER } from '../../../core/src/charter/charter.fixture';
import { asVersion3 } from '../../../core/src/charter/earlier-charters.fixture';
import { insertRow, testAccess, testDatabase, undoMigrations } from '../fixture/test-database.fixture';
import { openDatabase } from './open-database';

let database: DataSource;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.destroy());

const AT = '2026-03-01 09:00:00';
const insert = (table: string, row: Record<string, unknown>): Promise<void> => insertRow(database, table, row);
const rows = (sql: string): Promise<Record<string, unknown>[]> => database.query(sql);

/** A charter of version 3 with a set for companies, which read the fields of leads. */
function earlier() {
  const { scoreSets, ...rest } = asVersion3(SMALL_CHARTER);
  const when = { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] };
  return { ...rest, scoreSets: [...scoreSets, { ...scoreSets[0]!, key: 'firms', of: 'company', when, signals: [] }] };
}

test('leads are put under contacts and companies, which get fields of their own; charters follow, and back', async () => {
  await undoMigrations(database, 'FieldsOfKinds');
  const old = earlier();
  await insert('charter', {
    ...{ in_force: 1, number: 4, base: 0, name: 'Old', body: JSON.stringify(old) },
    ...{ version: 1, author: 'x', changed_at: AT },
  });
  const field = { options: '[]', retired_options: '[]', retired: 0, personal: 0 };
  const fields = {
    name: 'text',
    email: 'email',
    company: 'text',
    industry: 'choice',
    country: 'country',
    extra: 'text',
  };
  for (const [i, [key, type]] of Object.entries(fields).entries())
    await insert('field', { ...field, key, name: key, type, position: i });
  const lead = {
    ...{ version: 1, status: 'open', stage: 'new', stage_since: AT, admitted: 'yes', test: 0 },
    ...{ place: 'not-handed-over', rank_order: 5, way: 'api', looks: '{}', score_set: 'leads', charter: 4 },
    ...{ since: AT, touched_at: AT, decided_at: AT },
  };
  const at = (minute: number) => `2026-03-01 09:0${minute}:00`;
  const brygg = { company: 'Fjord Brygg', company_key: 'fjord brygg' };
  await insert('record', { id: 7, kind: 'company', created_at: at(1) });
  await insert('company', {
    ...{ id: 7, name: 'Fjord Brygg', folded: 'fjord brygg', due: null, touched: 0, changes: 3 },
    ...{ admitted: 'no', rank_order: 0 },
  });
  await insert('lead', { ...lead, ...brygg, id: 1, name: 'Kari', email: 'kari@fjord.example', arrived: at(1) });
  await insert('lead', { ...lead, ...brygg, id: 2, name: 'Kari N', email: 'kari@fjord.example', arrived: at(3) });
  await insert('lead', { ...lead, id: 3, name: 'Nobody', company: '', arrived: at(2) });

  const told: string[] = [];
  await (await openDatabase(testAccess(), undefined, (text) => told.push(text))).destroy();
  expect(told.length).toBeGreaterThan(1);
  expect(told.at(-1)).toMatch(/contacts and companies: step (\d+) of \1$/);
  const [{ body } = { body: '' }] = await rows('SELECT body FROM charter');
  const reading = readCharter(old);
  expect(reading.ok).toBe(true);
  // The reader takes the earlier form: what is stored reads the same.
  expect(readCharter(JSON.parse(String(body)))).toEqual(reading);
  expect((JSON.parse(String(body)) as Charter).version).toBe(4);
  expect(
    await rows('SELECT `key`, role, feeds FROM field WHERE role IS NOT NULL OR feeds IS NOT NULL ORDER BY `key`'),
  ).toEqual([
    { key: 'company', role: 'company', feeds: 'company.name' },
    { key: 'company.country', role: 'country', feeds: null },
    { key: 'company.domain', role: 'domain', feeds: null },
    { key: 'company.name', role: 'name', feeds: null },
    { key: 'contact.email', role: 'email', feeds: null },
    { key: 'contact.name', role: 'name', feeds: null },
    { key: 'country', role: 'country', feeds: 'company.country' },
    { key: 'deal.amount', role: 'amount', feeds: null },
    { key: 'deal.close', role: 'close', feeds: null },
    { key: 'deal.name', role: 'name', feeds: null },
    { key: 'email', role: 'email', feeds: 'contact.email' },
    { key: 'industry', role: null, feeds: 'company.industry' },
    { key: 'name', role: 'name', feeds: 'contact.name' },
  ]);
  const [contact] = await rows('SELECT id, name, email, company, due IS NOT NULL AS due FROM contact');
  expect(contact).toMatchObject({ name: 'Kari N', email: 'kari@fjord.example', company: 7, due: 1 });
  expect(await rows('SELECT id, contact, company_id FROM `lead` ORDER BY id')).toEqual([
    { id: 1, contact: contact!['id'], company_id: 7 },
    { id: 2, contact: contact!['id'], company_id: 7 },
    { id: 3, contact: null, company_id: null },
  ]);
  expect(await rows('SELECT kind FROM record WHERE id = (SELECT id FROM contact)')).toEqual([{ kind: 'contact' }]);
  expect(await rows('SELECT kind, folded, company FROM company_key')).toEqual([
    { kind: 'name', folded: 'fjord brygg', company: 7 },
  ]);

  await undoMigrations(database, 'FieldsOfKinds');
  const [undone = { body: '' }] = await rows('SELECT body FROM charter');
  expect(JSON.parse(String(undone['body']))).toEqual(old);
  expect(await rows('SELECT id, company_key FROM `lead` ORDER BY id')).toEqual([
    { id: 1, company_key: 'fjord brygg' },
    { id: 2, company_key: 'fjord brygg' },
    { id: 3, company_key: null },
  ]);
  expect(await rows('SELECT id, folded FROM company')).toEqual([{ id: 7, folded: 'fjord brygg' }]);
  expect(await rows("SELECT id FROM record WHERE kind = 'contact'")).toEqual([]);
  await database.runMigrations();
});
