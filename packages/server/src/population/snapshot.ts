import type { DataSource, QueryRunner } from 'typeorm';

export type Row = Readonly<Record<string, string | null>>;

/** How far rescores came: where one changes nothing of a lead but the charter that governs it, no log says so. */
export const RESCORED = "SELECT CONCAT(COUNT(*), '.', COALESCE(SUM(done), 0)) FROM job";

/** Tells a population apart from later ones: whatever changes a record adds to one of these. */
async function versionIn(runner: QueryRunner): Promise<string> {
  const [row] = (await runner.query(
    `SELECT (SELECT COALESCE(MAX(id), 0) FROM decision) AS d, (SELECT COALESCE(MAX(id), 0) FROM record_change) AS c,
       (SELECT COALESCE(MAX(id), 0) FROM activity) AS a, (${RESCORED}) AS r`,
  )) as Row[];
  return `${row?.['d'] ?? 0}-${row?.['c'] ?? 0}-${row?.['a'] ?? 0}-${row?.['r'] ?? 0}`;
}

/** Connections that see the same moment, however long one reads from them. */
export interface Snapshot {
  readonly version: string;
  readonly runners: readonly QueryRunner[];
}

const TRIES = 5;

/** Opens a snapshot on two connections, or on one where there is never a calm moment between two. */
async function open(runners: readonly QueryRunner[]): Promise<Snapshot> {
  for (let tries = 0; tries < TRIES; tries += 1) {
    await Promise.all(runners.map((runner) => runner.startTransaction('REPEATABLE READ')));
    // The first read is what fixes the moment that a connection sees.
    const versions = await Promise.all(runners.map(versionIn));
    const [version = ''] = versions;
    if (versions.every((one) => one === version)) return { version, runners };
    if (tries === TRIES - 1) return { version, runners: runners.slice(0, 1) };
    await Promise.all(runners.map((runner) => runner.commitTransaction()));
  }
  throw new Error('A snapshot is tried at least once');
}

/** Reads from one moment of the database, with two connections at a time: one waits while the other is read out. */
export async function inSnapshot<T>(source: DataSource, read: (snapshot: Snapshot) => Promise<T>): Promise<T> {
  const runners = [source.createQueryRunner(), source.createQueryRunner()];
  try {
    await Promise.all(
      runners.map(async (runner) => {
        await runner.connect();
        await runner.query('SET SESSION group_concat_max_len = 1073741824');
      }),
    );
    return await read(await open(runners));
  } finally {
    // The connections go back to the pool: no transaction may stay open on them. Nothing was written.
    for (const runner of runners) {
      if (runner.isTransactionActive) await runner.rollbackTransaction();
      await runner.release();
    }
  }
}

/** Does all that is to be read, each connection taking the next as soon as it is free. */
export async function shareOut(
  { runners }: Snapshot,
  work: readonly ((runner: QueryRunner) => Promise<void>)[],
): Promise<void> {
  const left = [...work];
  await Promise.all(
    runners.map(async (runner) => {
      for (let next = left.shift(); next !== undefined; next = left.shift()) await next(runner);
    }),
  );
}

/** What a population is told apart by, now. */
export async function populationVersion(source: DataSource): Promise<string> {
  const runner = source.createQueryRunner();
  try {
    return await versionIn(runner);
  } finally {
    await runner.release();
  }
}
