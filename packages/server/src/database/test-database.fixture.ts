import { createConnection } from 'mysql2/promise';
import type { DataSource } from 'typeorm';
import { openDatabase } from './open-database';

/** A fresh database for one test file, on the MariaDB that Jest's set-up started. */
export async function testDatabase(): Promise<DataSource> {
  const socketPath = process.env['RELVIK_TEST_SOCKET'] ?? '';
  const database = `relvik_test_${process.env['JEST_WORKER_ID'] ?? '0'}`;
  const connection = await createConnection({ socketPath, user: 'root' });
  await connection.query(`DROP DATABASE IF EXISTS ${database}`);
  await connection.query(`CREATE DATABASE ${database}`);
  await connection.end();
  return openDatabase({ socketPath, user: 'root', password: '', database });
}
