// Starts a MariaDB server of our own: its data inside the project folder, reached over loopback or a socket only.
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

const asRoot = process.getuid() === 0 ? ['--user=root'] : [];
/** Size of the buffer pool: a quarter of the memory, at least 256 MB and at most 8 GB. */
const POOL_MB = Math.min(8192, Math.max(256, Math.floor(totalmem() / 2 ** 22)));
const LASTING = [`--innodb-buffer-pool-size=${POOL_MB}M`, '--innodb-log-file-size=256M'];
const FAST = [
  '--innodb-flush-log-at-trx-commit=0',
  '--innodb-doublewrite=0',
  '--innodb-flush-method=nosync',
  '--innodb-buffer-pool-size=256M',
];

function answers(socket) {
  // An answer that refuses the password is an answer too.
  const ping = spawnSync(
    'mariadb-admin',
    ['--no-defaults', `--socket=${socket}`, '-uroot', '--connect-timeout=2', 'ping'],
    { encoding: 'utf8' },
  );
  return ping.status === 0 || /Access denied/.test(ping.stderr);
}

async function whenSilent(socket) {
  while (answers(socket)) await pause(5000);
  return 'it does not answer';
}

function portIsTaken(port) {
  return new Promise((resolve) => {
    const probe = connect({ port, host: '127.0.0.1' });
    probe.once('connect', () => (probe.destroy(), resolve(true)));
    probe.once('error', () => resolve(false));
  });
}

function install(data) {
  const half = `${data}.half`;
  rmSync(half, { recursive: true, force: true });
  const made = spawnSync(
    'mariadb-install-db',
    ['--no-defaults', ...asRoot, `--datadir=${half}`, '--auth-root-authentication-method=normal', '--skip-test-db'],
    { encoding: 'utf8' },
  );
  if (made.status !== 0)
    throw new Error(`The database's files could not be made in ${half}:\n${made.stderr || made.stdout}`);
  renameSync(half, data);
}

function sql(socket, password, statements) {
  const done = spawnSync('mariadb', ['--no-defaults', `--socket=${socket}`, '-uroot'], {
    input: statements,
    encoding: 'utf8',
    env: { ...process.env, ...(password ? { MYSQL_PWD: password } : {}) },
  });
  if (done.status !== 0) throw new Error(`The database refused its set-up: ${done.stderr}`);
}

function lastLines(file) {
  return existsSync(file) ? readFileSync(file, 'utf8').trimEnd().split('\n').slice(-6).join('\n') : '';
}

/**
 * Starts the server whose data are in `folder`, making them on the first run.
 *
 * @param port on 127.0.0.1; null: by socket only
 * @param fast for tests: nothing needs to survive a power cut
 */
export async function startMariadb({ folder, port = null, fast = false }) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const data = join(folder, 'data');
  const log = join(folder, 'mariadb.log');
  const tmp = join(folder, 'tmp');
  mkdirSync(tmp, { recursive: true });
  // In the temporary folder: a socket's path may have at most 107 characters.
  const socket = join(tmpdir(), `relvik-${createHash('sha256').update(folder).digest('hex').slice(0, 16)}.sock`);
  const pidFile = join(folder, 'mariadb.pid');
  if (!existsSync(join(data, 'mysql'))) install(data);

  let ended = null;
  if (!answers(socket)) {
    if (port !== null && (await portIsTaken(port))) {
      throw new Error(
        `Port ${port} is taken by another program. Stop it, or choose another port: RELVIK_DB_PORT=${port + 1} npm start`,
      );
    }
    const server = spawn(
      'mariadbd',
      [
        '--no-defaults',
        ...asRoot,
        `--datadir=${data}`,
        `--socket=${socket}`,
        `--pid-file=${pidFile}`,
        `--tmpdir=${tmp}`,
        `--log-error=${log}`,
        ...(port === null ? ['--skip-networking'] : ['--bind-address=127.0.0.1', `--port=${port}`]),
        '--skip-name-resolve',
        '--skip-log-bin',
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        '--default-time-zone=+00:00',
        '--max-allowed-packet=64M',
        '--innodb-lock-wait-timeout=10',
        '--sql-mode=STRICT_TRANS_TABLES,NO_ZERO_IN_DATE,NO_ZERO_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION',
        ...(fast ? FAST : LASTING),
      ],
      { detached: true, stdio: 'ignore' },
    );
    server.unref();
    let gone = false;
    ended = new Promise((resolve) =>
      server.once('exit', (code, signal) => {
        gone = true;
        resolve(signal ?? `code ${code}`);
      }),
    );
    for (let waited = 0; !answers(socket); waited += 100) {
      if (gone || waited > 60_000) {
        throw new Error(
          `The database did not start. Its log, ${log}, ends with:\n${lastLines(log)}\nIf its files are damaged, restore ${folder} from a backup, or move it away to begin anew.`,
        );
      }
      await pause(100);
    }
  }

  return {
    socket,
    /** Resolves with how it ended; a server that ran already is asked from time to time. */
    ended: ended ?? whenSilent(socket),
    async stop() {
      const pid = existsSync(pidFile) ? Number(readFileSync(pidFile, 'utf8')) : 0;
      if (!pid) return;
      try {
        process.kill(pid, 'SIGTERM');
      } catch {
        // It has ended already and left its file.
        return;
      }
      for (let waited = 0; existsSync(pidFile) && waited < 30_000; waited += 50) await pause(50);
    },
  };
}

/** Gives the database a user of its own with a random password, and root one too; kept in a file only its owner reads. */
export function ensureAccess({ socket, folder, port }) {
  const file = join(folder, 'access.json');
  if (existsSync(file)) return { ...JSON.parse(readFileSync(file, 'utf8')), port };
  const password = () => randomBytes(24).toString('base64url');
  const access = {
    host: '127.0.0.1',
    port,
    user: 'relvik',
    database: 'relvik',
    password: password(),
    rootPassword: password(),
  };
  writeFileSync(`${file}.half`, JSON.stringify(access, null, 2), { mode: 0o600 });
  sql(
    socket,
    '',
    `CREATE DATABASE IF NOT EXISTS relvik;
     CREATE OR REPLACE USER relvik@'127.0.0.1' IDENTIFIED BY '${access.password}';
     GRANT ALL ON relvik.* TO relvik@'127.0.0.1';
     DELETE FROM mysql.global_priv WHERE User = '' OR (User = 'root' AND Host <> 'localhost');
     FLUSH PRIVILEGES;
     ALTER USER root@localhost IDENTIFIED BY '${access.rootPassword}';`,
  );
  renameSync(`${file}.half`, file);
  return access;
}

/** A database of that name, empty, for tests: reached by socket as root. */
export function emptyDatabase(socket, name) {
  sql(socket, '', `DROP DATABASE IF EXISTS \`${name}\`; CREATE DATABASE \`${name}\`;`);
}
