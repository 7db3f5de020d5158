import 'reflect-metadata';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, release, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { acceptLeads, type Inquiry } from '../packages/server/src/act/accept-leads';
import { act } from '../packages/server/src/act/acting';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { type Access, openDatabase } from '../packages/server/src/store/open-database';
import { leadOf, sendLeads, startServer, worldThatHandsOver } from './intake-setting';
import { atLeast, type Figure, median, percentile95, ROUNDS } from './measure';
import { besideDueLeads, besideImport } from './beside';

/** S5: `npm run bench:intake`. */

const CLIENTS = 64;
/** People without limits, so that leads go to owners and turns move, as with a team that keeps up. */
const UNLIMITED = 'UPDATE person SET takes = NULL';

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
    if (only === undefined || only === 'due') {
      const due = await besideDueLeads(source, access, folder);
      figures.push(...due.figures);
      seen.push(due.seen);
    }
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
