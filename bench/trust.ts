import 'reflect-metadata';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, release, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import { LosingProxy } from '../packages/server/src/fixture/losing-proxy.fixture';
import { openDatabase } from '../packages/server/src/store/open-database';
import { leadOf } from './intake-setting';
import { call, pause, signedIn, TrustServer } from './trust-server';
import {
  type Answered,
  CLIENTS,
  fresh,
  judge,
  KEY,
  LEADS,
  PORT,
  type Row,
  sendAll,
  type Setting,
  withFaults,
} from './trust-setting';
import { turns, type TurnsSeen } from './trust-turns';

/** What faults cost: `npm run bench:trust`. */

async function serverKilled(setting: Setting): Promise<Row> {
  const { source, file } = await fresh(setting, 'killed');
  const server = new TrustServer(file, PORT);
  await server.start();
  const kill = async (): Promise<void> => {
    await server.end('SIGKILL');
    await server.start();
  };
  const answered = await withFaults(
    [kill, kill, kill, kill, kill],
    sendAll([PORT], { keys: true, again: true, prefix: 'a' }),
  );
  await server.end('SIGTERM');
  const row = await judge(source, '(a) five kills of the server', answered);
  await source.destroy();
  return row;
}

async function databaseKilled(setting: Setting): Promise<Row> {
  const { source, file, access } = await fresh(setting, 'database');
  await source.destroy();
  const server = new TrustServer(file, PORT);
  await server.start();
  const answered = await withFaults(
    [setting.restartDatabase, setting.restartDatabase, setting.restartDatabase],
    sendAll([PORT], { keys: true, again: true, prefix: 'b' }),
  );
  await server.end('SIGTERM');
  const again = await openDatabase(access as never);
  const row = await judge(again, '(b) three kills of the database', answered);
  await again.destroy();
  return row;
}

/** Two servers get the same e-mails at once; meanwhile leads are edited to e-mails that come in at that moment. */
async function twoServers(setting: Setting): Promise<Row> {
  const { source, file } = await fresh(setting, 'twice');
  const servers = [new TrustServer(file, PORT), new TrustServer(file, PORT + 1)];
  for (const server of servers) await server.start();
  const admin = await signedIn(PORT, 'admin@ostervane.example');
  const mine: { id: number; name: string }[] = [];
  const inquiries: Answered[] = [];
  let editing = true;
  const edit = async (): Promise<void> => {
    for (let i = 0; editing; i += 1) {
      const name = `Kept ${i}`;
      const made = await call(PORT, 'POST', '/api/leads', { values: { name, email: `own${i}@own.example` } }, admin);
      const id = made.body.id ?? 0;
      mine.push({ id, name });
      const email = `c${Math.floor(Math.random() * (LEADS / 2))}@same.example`;
      await Promise.all([
        call(PORT, 'PATCH', `/api/leads/${id}`, { version: 1, values: { email } }, admin),
        call(
          PORT + 1,
          'POST',
          '/api/intake/leads',
          { values: { email } },
          { ...KEY, 'Idempotency-Key': `edit-${i}` },
        ).then(({ status, body }) => {
          if (status === 201) inquiries.push({ n: i, id: body.id ?? 0, joined: body.joined === true });
        }),
      ]);
    }
  };
  const edits = edit();
  const answered = await sendAll([PORT, PORT + 1], {
    keys: true,
    again: true,
    prefix: 'c',
    emailOf: (n) => Math.floor(n / 2),
  });
  editing = false;
  await edits;
  for (const server of servers) await server.end('SIGTERM');
  // What joined an edited lead may say another name of its own accord; whose lead it is shows in its history.
  const [{ n: overwritten }] = await source.query<[{ n: string }]>(
    `SELECT COUNT(*) AS n FROM \`lead\` l WHERE l.id IN (?) AND l.name NOT LIKE 'Kept %'
     AND NOT EXISTS (SELECT * FROM record_change c WHERE c.record = l.id AND c.field = 'name')`,
    [mine.map(({ id }) => id)],
  );
  const gone = mine.filter(({ id }) => id === 0).length;
  const leads = await source.query<{ id: number }[]>('SELECT id FROM `lead`');
  const here = new Set(leads.map(({ id }) => id));
  const lostOwn = mine.filter(({ id }) => id !== 0 && !here.has(id)).length;
  const all = [...answered, ...inquiries, ...mine.map(({ id }, n) => ({ n, id, joined: false }))];
  const row = await judge(source, `(c) two servers, equal e-mails, ${mine.length} leads edited meanwhile`, all, {
    sent: all.length,
    overwritten: Number(overwritten) + lostOwn + gone,
  });
  await source.destroy();
  return row;
}

async function commitsLost(setting: Setting): Promise<Row> {
  const { source } = await fresh(setting, 'commits');
  await source.query("CREATE OR REPLACE USER through@localhost IDENTIFIED BY 'proxy'");
  await source.query('GRANT ALL ON commits.* TO through@localhost');
  const proxy = await LosingProxy.start(setting.socket);
  const file = join(setting.folder, 'commits.json');
  writeFileSync(
    file,
    JSON.stringify({ user: 'through', password: 'proxy', database: 'commits', host: '127.0.0.1', port: proxy.port }),
  );
  const server = new TrustServer(file, PORT);
  await server.start();
  const losing = setInterval(() => (proxy.toLose = 1), 150);
  const answered = await sendAll([PORT], { keys: false, again: false, prefix: 'd' });
  clearInterval(losing);
  await server.end('SIGTERM');
  const row = await judge(source, `(d) ${proxy.lost} COMMIT replies lost, sent without keys`, answered, {
    unanswered: true,
  });
  await proxy.stop();
  await source.destroy();
  return row;
}

async function stopped(setting: Setting): Promise<Row> {
  const { source, file } = await fresh(setting, 'stopped');
  const server = new TrustServer(file, PORT);
  await server.start();
  const stop = async (): Promise<void> => {
    await server.end('SIGTERM');
    await server.start();
  };
  const answered = await withFaults([stop, stop, stop], sendAll([PORT], { keys: false, again: false, prefix: 'e' }));
  await server.end('SIGTERM');
  const row = await judge(source, '(e) three SIGTERMs, sent without keys, not sent again', answered, {
    unanswered: true,
  });
  await source.destroy();
  return row;
}

async function fileKilled(setting: Setting): Promise<Row> {
  const { source, file } = await fresh(setting, 'files');
  const server = new TrustServer(file, PORT);
  await server.start();
  const rows = Array.from({ length: LEADS }, (_, n) => Object.values(leadOf(n, 'f')).join(','));
  const text = [Object.keys(leadOf(0, 'f')).join(','), ...rows].join('\n');
  const send = async (): Promise<void> => {
    const admin = await signedIn(PORT, 'admin@ostervane.example');
    await call(PORT, 'POST', '/api/intake/csv?name=f.csv', text, admin);
  };
  await send();
  for (let kill = 0; kill < 2; kill += 1) {
    await pause(1500);
    await server.end('SIGKILL');
    await server.start();
    await send();
  }
  for (;;) {
    const [{ n }] = await source.query<[{ n: string }]>("SELECT COUNT(*) AS n FROM import_file WHERE state <> 'done'");
    if (Number(n) === 0) break;
    await pause(500);
  }
  await server.end('SIGTERM');
  const done = await source.query<{ record: number; row: number }[]>(
    'SELECT record, `row` FROM import_row ORDER BY `row`',
  );
  const answered = done.map(({ record, row }) => ({ n: row, id: record, joined: false }));
  const judged = await judge(source, '(f) a file killed twice and sent again each time', answered, {
    sent: rows.length,
  });
  await source.destroy();
  return judged;
}

function turnsTable(seen: readonly TurnsSeen[]): string {
  return `
In (g) every industry is a route of its own, to three people without limits; turns are read from the kept decisions, in their order. Uneven: the most by which two people of a route were apart at any point (a method
that takes turns: at most 1). Wrong: choices that differ from the published smooth weighted sequence, worked out anew.

| route, by | given | uneven | wrong |
|---|---|---|---|
${seen.map((one) => `| ${one.method} | ${one.given} | ${one.uneven} | ${one.wrong === null ? '–' : one.wrong} |`).join('\n')}
`;
}

function page(rows: readonly Row[]): string {
  const machine = `${cpus()[0]?.model.trim() ?? 'unknown'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Linux ${release()}, Node ${process.version}`;
  const cell = (n: number | null): string => (n === null ? '–' : String(n));
  return `# What faults cost

Written by \`npm run bench:trust\` on ${new Date().toISOString().slice(0, 10)}: ${machine}. MariaDB is set as \`npm start\` runs it (each commit is flushed). ${LEADS.toLocaleString('en')} leads by ${CLIENTS} clients over HTTP in each case, in (g) 20,000 by 64 to two servers, of which one is killed, then the database; (a), (b),
(f) and (g) are sent with keys, or as the same file, and sent again until they are answered. Lost: answered with 201, and not there. Doubled: more leads than were sent. Overwritten: a lead that lost what it said to one that came in.
Phantom: activities that nobody sent. Faults: what \`relvik doctor\` finds afterwards (wrong loads, orphans, places, decisions). Unanswered: stored, and not answered with 201.

| | sent | answered | lost | doubled | overwritten | phantom | faults | unanswered |
|---|---|---|---|---|---|---|---|---|
${rows.map((row) => `| ${row.what} | ${row.sent} | ${row.answered} | ${row.lost} | ${row.doubled} | ${row.overwritten} | ${row.phantom} | ${row.faults} | ${cell(row.unanswered)} |`).join('\n')}
`;
}

async function main(): Promise<void> {
  const { startMariadb } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-trust-'));
  let database = await startMariadb({ folder });
  const setting: Setting = {
    socket: database.socket,
    folder,
    async restartDatabase() {
      const pid = readFileSync(join(folder, 'mariadb.pid'), 'utf8').trim();
      spawnSync('kill', ['-9', pid]);
      await pause(300);
      database = await startMariadb({ folder });
    },
  };
  let seen: readonly TurnsSeen[] = [];
  const turnsTaken = async (): Promise<Row> => {
    const taken = await turns(setting);
    ({ seen } = taken);
    return taken.row;
  };
  const cases = {
    ...{ a: serverKilled, b: databaseKilled, c: twoServers, d: commitsLost, e: stopped, f: fileKilled },
    g: turnsTaken,
  };
  const only = process.argv[2];
  try {
    const rows: Row[] = [];
    for (const [name, run] of Object.entries(cases))
      if (only === undefined || only.includes(name)) rows.push(await run(setting));
    if (only === undefined) {
      const file = join(__dirname, '../docs/trust.md');
      // The end of the page is of `npm run bench:hostile`.
      const [hostile = ''] = /\n## Hostile requests[^]*/.exec(readFileSync(file, 'utf8')) ?? [];
      writeFileSync(file, page(rows) + turnsTable(seen) + hostile);
    }
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
