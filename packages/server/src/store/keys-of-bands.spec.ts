import { BY_RULE, type Charter, type Gate, lookKey, readCharter } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { SMALL_CHARTER } from '../../../core/src/charter/charter.fixture';
import { asVersion2 } from '../../../core/src/charter/earlier-charters.fixture';
import { insertRow, testDatabase, undoMigrations } from '../fixture/test-database.fixture';

let database: DataSource;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.destroy());

const FIT = { kind: 'band', axis: 'fit' };
/** A charter of version 2 in which a gate and a route name bands. */
function earlier() {
  const old = structuredClone(asVersion2(SMALL_CHARTER)) as ReturnType<typeof asVersion2> & {
    gates: { when: unknown }[];
  };
  old.gates[0]!.when = { test: 'one-of', subject: FIT, values: ['A', 'B'] };
  const [route] = old.streams[0]!.routes as { when: unknown }[];
  route!.when = { test: 'not', of: { test: 'one-of', subject: FIT, values: ['C'] } };
  return old;
}

const insert = (table: string, row: Record<string, unknown>): Promise<void> => insertRow(database, table, row);
const jsonIn = async <T>(table: string, column: string): Promise<T> => {
  const rows = await database.query<Record<string, string>[]>(
    `SELECT \`${column}\` FROM \`${table}\` ORDER BY id LIMIT 1`,
  );
  return JSON.parse(rows[0]?.[column] ?? 'null') as T;
};

/** The look of a gate that asks for nothing beside its condition, as all did before they could. */
const lookOf = (gate: Gate): string =>
  lookKey({ ...gate, requiredFields: [], minDays: 0, minHours: 0, decider: BY_RULE });

test('charters get keys of bands and a pipeline; leads, looks, views and history follow, and back', async () => {
  await undoMigrations(database, 'KeysOfBands');
  const old = earlier();
  const at = '2026-03-01 09:00:00';
  await insert('charter', {
    in_force: 1,
    number: 4,
    base: 0,
    name: 'Old',
    body: JSON.stringify(old),
    version: 1,
    author: 'x',
    changed_at: at,
  });
  const looks = { [lookOf(old.gates[0] as never)]: 'true', [lookOf(old.gates[1] as never)]: 'false' };
  const lead = {
    ...{
      version: 1,
      name: 'Kari',
      company: 'Fjord',
      status: 'open',
      stage: 'new',
      stage_since: at,
      admitted: 'yes',
      test: 0,
    },
    ...{ place: 'not-handed-over', rank_order: 5, way: 'api', looks: JSON.stringify(looks), score_set: 'leads' },
    ...{ since: at, arrived: at, touched_at: at, decided_at: at },
  };
  await insert('lead', { ...lead, id: 1, charter: 4, fit_band: 2, engagement_band: 1, grade: 'A active' });
  await insert('lead', { ...lead, id: 2, charter: 4 });
  const when = JSON.stringify({ test: 'one-of', subject: FIT, values: ['B'] });
  const view = { when, fit: 'A', engagement: 'quiet', order: 'fit' };
  await insert('saved_view', { person: 'x', name: 'Best', shared: 0, query: JSON.stringify(view) });
  await insert('saved_view', { person: 'x', name: 'One', shared: 0, query: JSON.stringify({ grade: 'B quiet' }) });
  const change = { record: 1, field: 'grade', at, cause: 'rule', by: 'x' };
  await insert('record_change', { ...change, from: null, to: JSON.stringify('A active') });

  await database.runMigrations();
  const body = await jsonIn<Charter>('charter', 'body');
  const reading = readCharter(old);
  expect(reading.ok).toBe(true);
  // The reader takes the earlier form: what is stored reads the same.
  expect(readCharter(body)).toEqual(reading);
  expect(await database.query('SELECT id, fit_band, engagement_band FROM `lead` ORDER BY id')).toEqual([
    { id: 1, fit_band: 'a', engagement_band: 'active' },
    { id: 2, fit_band: null, engagement_band: null },
  ]);
  const moved = Object.fromEntries(body.gates.map((gate: Gate, i) => [lookOf(gate), ['true', 'false'][i]]));
  expect(await jsonIn('lead', 'looks')).toEqual(moved);
  const views = await database.query<{ query: string }[]>('SELECT query FROM saved_view ORDER BY id');
  const [best, one] = views.map(({ query }) => JSON.parse(query) as Record<string, string>);
  expect(best).toMatchObject({ fit: 'a', engagement: 'quiet', order: 'fit' });
  expect(JSON.parse(best!['when']!)).toMatchObject({ values: ['b'] });
  expect(one).toEqual({ fit: 'b', engagement: 'quiet' });
  await insert('record_change', { ...change, from: JSON.stringify('a/active'), to: JSON.stringify('c/quiet') });

  await undoMigrations(database, 'KeysOfBands');
  expect(await jsonIn('charter', 'body')).toEqual(old);
  expect(await database.query('SELECT fit_band, engagement_band, grade FROM `lead` ORDER BY id')).toEqual([
    { fit_band: 2, engagement_band: 1, grade: 'A active' },
    { fit_band: null, engagement_band: null, grade: null },
  ]);
  expect(await jsonIn('lead', 'looks')).toEqual(looks);
  expect(await jsonIn('saved_view', 'query')).toEqual(view);
  expect(await database.query('SELECT `from`, `to` FROM record_change ORDER BY id')).toEqual([
    { from: null, to: '"A active"' },
    { from: '"A active"', to: '"C quiet"' },
  ]);
  await database.runMigrations();
});
