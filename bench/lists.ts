import 'reflect-metadata';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, release, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { type Access, openDatabase } from '../packages/server/src/store/open-database';
import { activityRates } from './activities.bench';
import { dealFigures, listFigures, storeDeals, storeMany } from './list.bench';
import type { Figure } from './measure';
import { gradeAll, rescoreFigures } from './rescore.bench';
import { store } from './stored.bench';
import { recordsOf } from './setting';

/** S6, S7 and activities, on a MariaDB of their own: `npm run bench:lists`. */

const ACTIVITIES = 50_000;

async function on<T>(
  socket: string,
  name: string,
  work: (source: DataSource, access: Access) => Promise<T>,
): Promise<T> {
  const { emptyDatabase } = await import('../scripts/mariadb.mjs');
  emptyDatabase(socket, name);
  const access = { socketPath: socket, user: 'root', password: '', database: name };
  const source = await openDatabase(access);
  try {
    return await work(source, access);
  } finally {
    await source.query(`DROP DATABASE ${name}`);
    await source.destroy();
  }
}

async function main(): Promise<void> {
  const { startMariadb } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-lists-'));
  const database = await startMariadb({ folder, fast: true });
  try {
    const figures: Figure[] = [];
    // Said at once: the parts after it take long.
    const take = (seen: readonly Figure[]): void => {
      figures.push(...seen);
      for (const { id, what, median, range, goal, reached } of seen)
        console.log(`${id} ${what}: ${median} (${range}), goal ${goal}${reached ? '' : ', NOT reached'}`);
    };
    console.log('S6');
    take(await on(database.socket, 'rescored', rescoreFigures));
    console.log('S7');
    take(
      await on(database.socket, 'listed', async (source) => {
        // A few whole leads bring the charter and the fields along.
        await store(source, recordsOf(10));
        await source.query('DELETE FROM `lead`');
        await source.query('DELETE FROM field_value');
        console.log('  storing 1,000,000 leads …');
        await storeMany(source, 1_000_000);
        const figures = await listFigures(source);
        console.log('  storing 1,000,000 deals …');
        await storeDeals(source, 1_000_000);
        return [...figures, ...(await dealFigures(source))];
      }),
    );
    console.log('activities');
    const rates = await on(database.socket, 'active', async (source) => {
      await store(source, recordsOf(100_000));
      await source.query(
        "UPDATE field_value SET folded = CONCAT(record, '-', folded), shown = CONCAT(record, '-', shown) WHERE field = 'email' AND kind = 'text'",
      );
      await gradeAll(source);
      return activityRates(source, ACTIVITIES, 100_000);
    });
    console.log(`activities: ${rates.map((rate) => Math.round(rate)).join(' and ')} rows/s`);
    writeFileSync(join(__dirname, '../docs/speed-lists.md'), page(figures, rates));
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

function page(figures: readonly Figure[], [taken, plain]: readonly [number, number]): string {
  const machine = `${cpus()[0]?.model.trim() ?? 'unknown'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Linux ${release()}, Node ${process.version}`;
  const rate = (rows: number): string => Math.round(rows).toLocaleString('en');
  return `# Speed of lists and rescores (S6, S7, activities)

Written by \`npm run bench:lists\` on ${new Date().toISOString().slice(0, 10)}: ${machine}; shared and noisy. MariaDB is set as for tests (nothing is flushed at a commit, a buffer pool of
256 MB, of 1 GB for S6), with all indexes of the lists in place. Ratios are of two works done by turns in one run (median, and the range seen); that both give the same rows is checked first.

| | what | goal | median | range | |
|---|---|---|---|---|---|
${figures.map(({ id, what, goal, median, range, reached }) => `| ${id} | ${what} | ${goal} | ${median} | ${range} | ${reached ? 'reached' : '**not reached**'} |`).join('\n')}

${ACTIVITIES.toLocaleString('en')} activities of 100,000 leads, in batches of 1,000, each with an event's id and a property: **${rate(taken)} rows/s** taken in, with every open lead of the batch
decided again; the same rows by plain INSERT into a table with the same indexes: ${rate(plain)} rows/s. There is no goal for it.
`;
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
