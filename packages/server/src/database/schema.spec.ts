import type { DataSource } from 'typeorm';
import { testDatabase } from './test-database.fixture';

let database: DataSource;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.destroy());

test('the migrations make exactly the schema that the entities describe', async () => {
  const { upQueries } = await database.driver.createSchemaBuilder().log();
  expect(upQueries.map((query) => query.query)).toEqual([]);
});

test('only one charter can be in force, and an e-mail can have one open lead', async () => {
  const charter = `INSERT INTO charter (in_force, base, name, body, version, author, changed_at) VALUES (1, 0, 'x', '{}', 1, 'x', NOW())`;
  await database.query(charter);
  await expect(database.query(charter)).rejects.toThrow(/charter_one_in_force/);
});
