import type { DataSource } from 'typeorm';
import { FailureEntity } from './entity/failure.entity';
import { CharterUnusable } from './governing';
import { errorText, nextTry } from './retry';
import { replaceRows } from './rows';
import { isDatabaseAway } from './transaction';

/** The record of a failure that is the work's as a whole. */
export const WHOLE = 0;

/** SQL that leaves out records on which a work failed and is not to be tried yet: parameters are the work and now. */
export function notFailing(id: string): string {
  return `NOT EXISTS (SELECT * FROM failure WHERE failure.work = ? AND failure.record = ${id} AND (failure.parked OR failure.next_at > ?))`;
}

/** Keeps that work failed, as a whole or on a record, and when it is tried again. */
export async function noteFailure(
  source: DataSource,
  work: string,
  record: number,
  error: unknown,
  now: Date,
): Promise<FailureEntity> {
  const before = await source.manager.findOneBy(FailureEntity, { work, record });
  const tries = (before?.tries ?? 0) + 1;
  const next = nextTry(now, tries, record);
  const row: FailureEntity = {
    work,
    record,
    tries,
    error: errorText(error),
    since: before?.since ?? now,
    nextAt: next ?? now,
    // Work as a whole goes on being tried: nothing else would begin it again.
    parked: next === null && record !== WHOLE,
  };
  if (next === null && record === WHOLE) row.nextAt = nextTry(now, 3, record) ?? now;
  await replaceRows(source.manager, FailureEntity, [row]);
  return row;
}

/** Forgets failures of records on which the work succeeded. */
export async function clearFailures(source: DataSource, work: string, records: readonly number[]): Promise<void> {
  if (records.length > 0)
    await source.manager.query('DELETE FROM failure WHERE work = ? AND record IN (?)', [work, records]);
}

/**
 * Does work on many records at once; if that fails, on each alone, so that one that can't be done stops no other.
 *
 * @param run does it in a transaction of its own
 * @returns the records on which it failed: kept, and left out until they are to be tried again
 * @throws what is not the records' fault: the database is away, or the charter in force can't be used
 */
export async function eachAlone(
  source: DataSource,
  work: string,
  records: readonly number[],
  now: Date,
  run: (records: readonly number[]) => Promise<void>,
): Promise<number[]> {
  try {
    await run(records);
    return [];
  } catch (error) {
    // Not the records' fault: the work as a whole failed.
    if (isDatabaseAway(error) || error instanceof CharterUnusable) throw error;
    if (records.length === 1) {
      for (const record of records) await noteFailure(source, work, record, error, now);
      return [...records];
    }
    const failed: number[] = [];
    for (const record of records) failed.push(...(await eachAlone(source, work, [record], now, run)));
    return failed;
  }
}
