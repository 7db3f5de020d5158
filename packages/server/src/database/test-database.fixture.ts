import { createConnection } from 'mysql2/promise';
import type { DataSource } from 'typeorm';
import { type Access, openDatabase } from './open-database';

/** The database of one test file, on the MariaDB that Jest's set-up started. */
export function testAccess(): Access {
  const database = `relvik_test_${process.env['JEST_WORKER_ID'] ?? '0'}`;
  return { socketPath: process.env['RELVIK_TEST_SOCKET'] ?? '', user: 'root', password: '', database };
}

/** Made anew and brought up to date. */
export async function testDatabase(): Promise<DataSource> {
  const access = testAccess();
  const { database, ...server } = access;
  const connection = await createConnection(server);
  await connection.query(`DROP DATABASE IF EXISTS ${database}`);
  await connection.query(`CREATE DATABASE ${database}`);
  await connection.end();
  return openDatabase(access);
}
