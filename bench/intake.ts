import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { ostervane } from '@relvik/demo';
import { acceptLeads, type Inquiry } from '../packages/server/src/act/accept-leads';
import { act } from '../packages/server/src/act/acting';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { type Access, openDatabase } from '../packages/server/src/store/open-database';
import { leadOf, sendLeads, startServer } from './intake-setting';
import { atLeast, type Figure, ROUNDS } from './measure';

/** S5: `npm run bench:intake`. */

const CLIENTS = 64;
/** People without limits, so that leads go to owners and turns move, as with a team that keeps up. */
const UNLIMITED = 'UPDATE person SET takes = NULL';

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1] ?? NaN;
const percentile95 = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? NaN;

async function overHttp(access: Access): Promise<Figure> {
  const whole = await startServer(access, 'whole');
  const bare = await startServer(access, 'bare');
  await sendLeads(whole, 2000, CLIENTS, 'warm');
  await sendLeads(bare, 2000, CLIENTS, 'warm');
  const shares: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const { rate: checked } = await sendLeads(bare, 4000, CLIENTS, `b${round}-`);
    const { rate: stored, waits } = await sendLeads(whole, 3000, CLIENTS, `w${round}-`);
    console.log(
      `  ${Math.round(stored)} leads/s stored (95% within ${percentile95(waits).toFixed(0)} ms), ${Math.round(checked)} checked only`,
    );
    shares.push((100 * stored) / checked);
  }
  await whole.stop();
  await bare.stop();
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
  return { cause: { kind: 'api', name: 'bench' }, at: new Date(), values: leadOf(n, prefix), owner: null };
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
  const seen: number[] = [];
  await rateOf(500, (n) => writer.accept(inquiry(n, 'warm-b')));
  for (let round = 0; round < ROUNDS; round += 1) {
    const alone = await rateOf(200, (n) =>
      act(source, new Date(), (acting) => acceptLeads(acting, [inquiry(n, `a${round}-`)])),
    );
    const batched = await rateOf(3000, (n) => writer.accept(inquiry(n, `c${round}-`)));
    console.log(`  ${Math.round(batched)} leads/s in batches, ${Math.round(alone)} one a transaction`);
    seen.push(batched / alone);
  }
  return atLeast('S5', 'the write path alone, against one transaction a lead with SELECT … FOR UPDATE', 10, seen);
}

async function main(): Promise<void> {
  const { startMariadb, emptyDatabase } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-intake-'));
  // Durable, as npm start runs it.
  const database = await startMariadb({ folder });
  try {
    emptyDatabase(database.socket, 'intake');
    const access = { socketPath: database.socket, user: 'root', password: '', database: 'intake' };
    const source = await openDatabase(access);
    await storeWorld(source, ostervane('ostervane', Date.now()), new Date());
    await source.query(UNLIMITED);
    const only = process.argv[2];
    const figures: Figure[] = [];
    if (only === undefined || only === 'http') figures.push(await overHttp(access));
    if (only === undefined || only === 'write') figures.push(await writePath(source));
    for (const { what, median: middle, range, goal, reached } of figures)
      console.log(`${what}: ${middle} (${range}), goal ${goal}${reached ? '' : ', NOT reached'}`);
    await source.destroy();
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
