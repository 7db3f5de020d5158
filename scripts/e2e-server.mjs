// Relvik for the browser tests: new databases with the demo world, each served on a port of its own, until it is stopped.
import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './build.mjs';
import { emptyDatabase, startMariadb } from './mariadb.mjs';

const require = createRequire(import.meta.url);
const folder = join(ROOT, '.relvik/e2e-database');
const database = await startMariadb({ folder, fast: true });
const { serve } = require('../packages/server/dist/serve.js');

const serveOn = (name, port) =>
  serve({
    access: { socketPath: database.socket, user: 'root', password: '', database: name },
    host: '127.0.0.1',
    port,
    webFolder: join(ROOT, 'packages/web/dist/browser'),
    demo: true,
    progress: (text) => console.log(text),
    limits: { signIn: 10_000, form: 10_000 },
  });

function client(program, args, input) {
  const options = ['--no-defaults', `--socket=${database.socket}`, '-uroot'];
  const { status, stdout, stderr } = spawnSync(program, [...options, ...args], { input, maxBuffer: 1 << 30 });
  if (status !== 0) throw new Error(String(stderr));
  return stdout;
}

// The world is lived through once; the others are copies of it.
const servings = [];
for (const [i, port] of (process.env.RELVIK_PORTS ?? '4410').split(' ').entries()) {
  const name = `relvik_${i}`;
  emptyDatabase(database.socket, name);
  if (i > 0) client('mariadb', [name], client('mariadb-dump', ['--single-transaction', 'relvik_0']));
  const serving = await serveOn(name, Number(port));
  servings.push(serving);
  console.log(`ready at ${serving.address}`);
}

let stopping = false;
async function stop() {
  if (stopping) return;
  stopping = true;
  await Promise.all(servings.map((serving) => serving.stop()));
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
  process.exit(0);
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
