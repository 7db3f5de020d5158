// `npm start`: installs what is missing, builds, starts the database, and runs Relvik with demo data until Ctrl-C.
import { spawn } from 'node:child_process';
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
  step(4, 'Database');
  const database = await startMariadb({ folder, port });
  let server = null;
  let stopping = false;
  async function stop(code) {
    if (stopping) return;
    stopping = true;
    if (server !== null && server.exitCode === null) {
      server.kill('SIGTERM');
      await new Promise((ended) => server.once('exit', ended));
    }
    await database.stop();
    process.exit(code);
  }
  process.on('SIGINT', () => stop(0));
  process.on('SIGTERM', () => stop(0));

  try {
    ensureAccess({ socket: database.socket, folder, port });
  } catch (error) {
    console.error(error.message);
    await stop(1);
  }
  step(5, 'Relvik');
  // In a process group of its own, so that Ctrl-C reaches only this script, which stops the server before the database.
  server = spawn(process.execPath, [join(ROOT, 'packages/server/dist/main.js')], {
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
    env: {
      ...process.env,
      RELVIK_ACCESS: join(folder, 'access.json'),
      RELVIK_DB_PORT: String(port),
      RELVIK_WEB: join(ROOT, 'packages/web/dist/browser'),
    },
  });
  server.once('exit', (code) => stop(code ?? 1));
}

start().catch((error) => {
  console.error(`\nRelvik could not start. ${error.message}`);
  process.exit(1);
});
