import type { QueryRunner } from 'typeorm';

/** Every change of a lead adds a row to at least one of these tables. */
const LOGS = ['decision', 'record_change', 'activity'] as const;

/** Ids are given out at the INSERT and become visible at the COMMIT: rows with ids this far back may still appear. */
const LATE = 20_000;

/** How far a log was read. */
interface Mark {
  readonly last: number;
  /** Count, sum and parity of the newest ids that were visible. */
  readonly seen: string;
}

export type Marks = Readonly<Record<(typeof LOGS)[number], Mark>>;

async function seenUpTo(runner: QueryRunner, log: string, last: number): Promise<string> {
  const [row] = (await runner.query(
    `SELECT CONCAT_WS(' ', COUNT(*), COALESCE(SUM(id), 0), BIT_XOR(id)) AS seen FROM ${log} WHERE id > ? AND id <= ?`,
    [last - LATE, last],
  )) as [{ seen: string }];
  return row.seen;
}

/** How far each log reaches now. */
export async function readMarks(runner: QueryRunner): Promise<Marks> {
  const marks: Partial<Record<(typeof LOGS)[number], Mark>> = {};
  for (const log of LOGS) {
    const [row] = (await runner.query(`SELECT COALESCE(MAX(id), 0) AS last FROM ${log}`)) as [
      { last: string | number },
    ];
    const last = Number(row.last);
    marks[log] = { last, seen: await seenUpTo(runner, log, last) };
  }
  return marks as Marks;
}

/**
 * The ids of the leads that changed since the marks were read, including those whose rows were committed late.
 *
 * @returns null if there are more than `most`
 */
export async function changedSince(runner: QueryRunner, marks: Marks, most: number): Promise<Set<number> | null> {
  const changed = new Set<number>();
  for (const log of LOGS) {
    const { last, seen } = marks[log];
    const from = (await seenUpTo(runner, log, last)) === seen ? last : last - LATE;
    const rows = (await runner.query(`SELECT DISTINCT record FROM ${log} WHERE id > ? LIMIT ?`, [from, most + 1])) as {
      record: number;
    }[];
    for (const { record } of rows) changed.add(record);
    if (changed.size > most) return null;
  }
  return changed;
}
