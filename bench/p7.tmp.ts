import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openDatabase } from '../packages/server/src/database/open-database';
import { storeMany } from './list.bench';
import { store } from './stored.bench';
import { recordsOf } from './setting';
async function main() {
  const { startMariadb, emptyDatabase } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-p7-'));
  const database = await startMariadb({ folder, fast: true });
  console.log('socket', database.socket);
  emptyDatabase(database.socket, 'listed');
  const source = await openDatabase({ socketPath: database.socket, user: 'root', password: '', database: 'listed' });
  await store(source, recordsOf(10));
  await source.query('DELETE FROM `lead`');
  await source.query('DELETE FROM field_value');
  await storeMany(source, 1_000_000);
  console.log('stored');
  await new Promise((r) => setTimeout(r, Number(process.env.STAY ?? 0) * 1000));
  await source.destroy();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
main().catch((e: unknown) => { console.error(e); process.exit(1); });
