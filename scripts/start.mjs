// `npm start`: installs what is missing, builds, starts the database, and runs Relvik with demo data until Ctrl-C.
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, ROOT } from './build.mjs';
import { ensurePackages } from './debian.mjs';
import { ensureAccess, startMariadb } from './mariadb.mjs';

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Relvik needs Node 20.19 or newer; this is ${process.version}.`);
  process.exit(1);
}

function step(number, text) {
  console.log(`[${number}/5] ${text}`);
}

async function start() {
  const folder = join(ROOT, '.relvik/database');
  const port = Number(process.env.RELVIK_DB_PORT ?? 33306);
  step(1, 'Debian packages');
  ensurePackages(['mariadb-server']);
  step(2, 'npm packages');
  ensureInstalled();
  step(3, 'Build');
  ensureBuilt();
  const { supervise } = createRequire(import.meta.url)('../packages/server/dist/supervise.js');
  let database = null;
  let server = null;
  let watching = [];
  let stopping = false;
  /** Ends everything, in order: the server first, so that what it accepted is stored. */
  async function stop(code) {
    if (stopping) return;
    stopping = true;
    for (const one of watching) one.stop();
    if (server !== null && server.exitCode === null && server.signalCode === null) {
      const gone = new Promise((ended) => server.once('exit', ended));
      server.kill('SIGTERM');
      await gone;
    }
    await database?.stop();
    process.exit(code);
  }
  process.on('SIGINT', () => stop(0));
  process.on('SIGTERM', () => stop(0));
  const say = (text) => console.log(`${new Date().toISOString()} ${text}`);
  const RULES = { say, pauses: [500, 1000, 2000, 5000, 10_000, 20_000], settled: 60_000 };

  step(4, 'Database');
  const keptDatabase = supervise({
    ...RULES,
    name: 'The database',
    async begin() {
      database = await startMariadb({ folder, port });
      ensureAccess({ socket: database.socket, folder, port });
      return { ready: Promise.resolve(), ended: database.ended };
    },
  });
  watching.push(keptDatabase);
  if (!(await keptDatabase.ready)) return stop(1);

  step(5, 'Relvik');
  const keptServer = supervise({
    ...RULES,
    name: 'The server',
    begin() {
      // In a process group of its own, so that Ctrl-C reaches only this script, which stops the server before the database.
      server = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
        detached: true,
        env: {
          ...process.env,
          RELVIK_ACCESS: join(folder, 'access.json'),
          RELVIK_DB_PORT: String(port),
          RELVIK_WEB: join(ROOT, 'packages/web/dist/browser'),
        },
      });
      const child = server;
      return {
        ready: new Promise((resolve) => child.once('message', resolve)),
        ended: new Promise((resolve) => child.once('exit', (code, signal) => resolve(signal ?? `code ${code}`))),
      };
    },
  });
  watching.push(keptServer);
  await Promise.race([keptDatabase.givenUp, keptServer.givenUp]);
  await stop(1);
}

start().catch((error) => {
  console.error(`\nRelvik could not start. ${error.message}`);
  process.exit(1);
});
