// Relvik for the browser tests: a new database with the demo world, on a port of its own, until it is stopped.
import { createRequire } from 'node:module';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './build.mjs';
import { emptyDatabase, startMariadb } from './mariadb.mjs';

const require = createRequire(import.meta.url);
const folder = join(ROOT, '.relvik/e2e-database');
const database = await startMariadb({ folder, fast: true });
emptyDatabase(database.socket, 'relvik');
const { serve } = require('../packages/server/dist/serve.js');
const serving = await serve({
  access: { socketPath: database.socket, user: 'root', password: '', database: 'relvik' },
  host: '127.0.0.1',
  port: Number(process.env.RELVIK_PORT ?? 4410),
  webFolder: join(ROOT, 'packages/web/dist/browser'),
  demo: true,
  progress: (text) => console.log(text),
  limits: { signIn: 10_000, form: 10_000 },
});
console.log(`ready at ${serving.address}`);

let stopping = false;
async function stop() {
  if (stopping) return;
  stopping = true;
  await serving.stop();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
  process.exit(0);
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
