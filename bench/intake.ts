import 'reflect-metadata';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, release, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { acceptLeads, type Inquiry } from '../packages/server/src/act/accept-leads';
import { act } from '../packages/server/src/act/acting';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { sha256 } from '../packages/server/src/session/session-store';
import { IntakeKeyEntity } from '../packages/server/src/store/entity/intake.entity';
import { type Access, openDatabase } from '../packages/server/src/store/open-database';
import { leadOf, sendLeads, startServer, worldThatHandsOver } from './intake-setting';
import { atLeast, atMost, type Figure, median, ROUNDS } from './measure';
import { call, pause, signedIn, TrustServer } from './trust-server';

/** S5: `npm run bench:intake`. */

const CLIENTS = 64;
/** People without limits, so that leads go to owners and turns move, as with a team that keeps up. */
const UNLIMITED = 'UPDATE person SET takes = NULL';

const percentile95 = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? NaN;

async function overHttp(access: Access): Promise<Figure> {
  const whole = await startServer(access, 'whole');
  const bare = await startServer(access, 'bare');
  await sendLeads(whole, 2000, CLIENTS, 'warm');
  await sendLeads(bare, 2000, CLIENTS, 'warm');
  const shares: number[] = [];
  const rates: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const { rate: checked } = await sendLeads(bare, 4000, CLIENTS, `b${round}-`);
    const { rate: stored, waits } = await sendLeads(whole, 3000, CLIENTS, `w${round}-`);
    console.log(
      `  ${Math.round(stored)} leads/s stored (95% within ${percentile95(waits).toFixed(0)} ms), ${Math.round(checked)} checked only`,
    );
    shares.push((100 * stored) / checked);
    rates.push(stored);
  }
  await whole.stop();
  await bare.stop();
  seen.push(
    `Over HTTP: ${Math.round(median(rates))} leads/s stored and answered by ${CLIENTS} clients (median of ${ROUNDS} rounds).`,
  );
  return {
    ...atLeast(
      'S5',
      `leads over HTTP by ${CLIENTS} clients, of the same server without decision and database`,
      60,
      shares,
    ),
    goal: '≥ 60%',
    median: `${median(shares).toFixed(0)}%`,
    range: `${Math.min(...shares).toFixed(0)}–${Math.max(...shares).toFixed(0)}%`,
  };
}

function inquiry(n: number, prefix: string): Inquiry {
  return {
    cause: { kind: 'api', name: 'bench' },
    at: new Date(),
    values: leadOf(n, prefix),
    owner: null,
    trusted: true,
  };
}

async function rateOf(count: number, one: (n: number) => Promise<unknown>): Promise<number> {
  let next = 0;
  const client = async (): Promise<void> => {
    while (next < count) {
      next += 1;
      await one(next);
    }
  };
  const began = performance.now();
  await Promise.all(Array.from({ length: CLIENTS }, client));
  return (count * 1000) / (performance.now() - began);
}

/** The write path alone: batches by one writer, against a transaction for each lead that locks the turn's row. */
async function writePath(source: DataSource): Promise<Figure> {
  const writer = new IntakeWriter(source);
  const ratios: number[] = [];
  const batches: number[] = [];
  await rateOf(500, (n) => writer.accept(inquiry(n, 'warm-b')));
  for (let round = 0; round < ROUNDS; round += 1) {
    const alone = await rateOf(200, (n) =>
      act(source, new Date(), (acting) => acceptLeads(acting, [inquiry(n, `a${round}-`)])),
    );
    const batched = await rateOf(3000, (n) => writer.accept(inquiry(n, `c${round}-`)));
    console.log(`  ${Math.round(batched)} leads/s in batches, ${Math.round(alone)} one a transaction`);
    ratios.push(batched / alone);
    batches.push(batched);
  }
  seen.push(`The write path alone: ${Math.round(median(batches))} leads/s in batches.`);
  return atLeast('S5', 'the write path alone, against one transaction a lead with SELECT … FOR UPDATE', 10, ratios);
}

/** A single lead's wait, sent one every 25 ms, alone and beside a file of 50,000 rows that is being taken in. */
async function besideImport(source: DataSource, access: Access, folder: string): Promise<Figure> {
  const file = join(folder, 'access.json');
  writeFileSync(file, JSON.stringify(access));
  const server = new TrustServer(file, 4480);
  await server.start();
  const secret = 'rk_beside';
  await source.manager.insert(IntakeKeyEntity, {
    name: 'beside',
    hash: sha256(secret),
    begins: secret,
    fields: Object.keys(leadOf(0, '')),
    createdAt: new Date(),
    lastUsedAt: new Date(),
    revoked: false,
    trusted: true,
  });
  const singles = async (seconds: number, prefix: string): Promise<number> => {
    const waits: Promise<number>[] = [];
    for (let n = 0; n < seconds * 40; n += 1) {
      const began = performance.now();
      waits.push(
        call(
          4480,
          'POST',
          '/api/intake/leads',
          { values: leadOf(n, prefix) },
          { Authorization: `Bearer ${secret}` },
        ).then(() => performance.now() - began),
      );
      await pause(25);
    }
    return percentile95(await Promise.all(waits));
  };
  await singles(3, 'warm-');
  const alone = [await singles(6, 'alone1-'), await singles(6, 'alone2-')];
  const rows = Array.from({ length: 50_000 }, (_, n) => Object.values(leadOf(n, 'file')).join(','));
  const admin = await signedIn(4480, 'admin@ostervane.example');
  await call(
    4480,
    'POST',
    '/api/intake/csv?name=large.csv',
    [Object.keys(leadOf(0, '')).join(','), ...rows].join('\n'),
    admin,
  );
  const beside = [await singles(8, 'beside1-'), await singles(8, 'beside2-'), await singles(8, 'beside3-')];
  const [{ n: left }] = await source.query<[{ n: string }]>(
    "SELECT COUNT(*) AS n FROM import_row WHERE state = 'waiting'",
  );
  console.log(
    `  alone ${alone.map((one) => one.toFixed(1)).join(', ')} ms; beside ${beside.map((one) => one.toFixed(1)).join(', ')} ms; ${left} rows were still waiting`,
  );
  await server.end('SIGKILL');
  return atMost(
    'S5',
    'a single lead’s 95th percentile beside a 50,000-row import, against its own',
    3,
    'times',
    beside.map((one) => one / median(alone)),
  );
}

function page(figures: readonly Figure[]): string {
  const machine = `${cpus()[0]?.model.trim() ?? 'unknown'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Linux ${release()}, Node ${process.version}`;
  return `# Speed of intake (S5)

Written by \`npm run bench:intake\` on ${new Date().toISOString().slice(0, 10)}: ${machine}; shared and noisy. MariaDB is set as \`npm start\` runs it: each commit is flushed. The people of the demo have no
limits, and its grid hands over every lead that has a fit. Every lead has nine fields and a new e-mail, for which a contact is created, and belongs to one of 997 companies. Its decision takes it through a gate and a route with a turn; rota, load, history, decision and outbox are written. The clients run on the same two cores. Ratios are of two works done by turns in one run (median, and the range seen).

| | what | goal | median | range | |
|---|---|---|---|---|---|
${figures.map(({ id, what, goal, median: middle, range, reached }) => `| ${id} | ${what} | ${goal} | ${middle} | ${range} | ${reached ? 'reached' : '**not reached**'} |`).join('\n')}

${seen.join('\n')}
`;
}

/** What was seen besides ratios, for the page. */
const seen: string[] = [];

async function main(): Promise<void> {
  const { startMariadb, emptyDatabase } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-intake-'));
  // Durable, as npm start runs it.
  const database = await startMariadb({ folder });
  try {
    emptyDatabase(database.socket, 'intake');
    const access = { socketPath: database.socket, user: 'root', password: '', database: 'intake' };
    const source = await openDatabase(access);
    await storeWorld(source, worldThatHandsOver(), new Date());
    await source.query(UNLIMITED);
    const only = process.argv[2];
    const figures: Figure[] = [];
    if (only === undefined || only === 'http') figures.push(await overHttp(access));
    if (only === undefined || only === 'write') figures.push(await writePath(source));
    if (only === undefined || only === 'beside') figures.push(await besideImport(source, access, folder));
    for (const { what, median: middle, range, goal, reached } of figures)
      console.log(`${what}: ${middle} (${range}), goal ${goal}${reached ? '' : ', NOT reached'}`);
    await source.destroy();
    if (only === undefined) writeFileSync(join(__dirname, '../docs/speed-intake.md'), page(figures));
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
