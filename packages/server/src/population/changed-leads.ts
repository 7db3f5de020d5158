import type { QueryRunner } from 'typeorm';

/** Whatever changes a lead adds a row to one of these, or several. */
const LOGS = ['decision', 'record_change', 'activity'] as const;

/** Rows get their ids when they are written, and are seen when they are committed: so many ids back some may come late. */
const LATE = 20_000;

/** How far a log was read. */
interface Mark {
  readonly last: number;
  /** What of its newest rows was seen. */
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
 * The ids of the leads that changed since marks were read, those included whose rows came late.
 *
 * @returns null: they are more than so many
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
