// Starts the MariaDB of the server's tests; each Jest worker makes a database of its own in it.
import { fileURLToPath } from 'node:url';
import { compile } from './build.mjs';
import { ensurePackages } from './debian.mjs';
import { startMariadb } from './mariadb.mjs';

export default async function start() {
  // Threads and commands that tests start run what is compiled: it must be what is tested.
  compile();
  ensurePackages(['mariadb-server']);
  const folder = fileURLToPath(new URL('../.relvik/test-database', import.meta.url));
  const database = await startMariadb({ folder, fast: true });
  process.env.RELVIK_TEST_SOCKET = database.socket;
  globalThis.stopTestDatabase = () => database.stop();
}
