import type { DataSource } from 'typeorm';
import { again } from '../act/act';
import { act } from '../act/acting';
import { RELVIK } from '../act/cause';
import { perform } from '../act/perform';
import { clearFailures, eachAlone, notFailing } from '../store/failures';
import { loadLeads } from '../store/load-leads';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 100;
/** A chain of changes across ties that is longer is left, in view, for a person. */
const LONGEST_CHAIN = 20;
const WORK = 'ties';

/**
 * Decides the open leads whose contact or company changed in what the charter in force reads of it; each once, however often it
 * changed.
 *
 * @returns how many were decided
 */
export async function followTies(source: DataSource, now: Date): Promise<number> {
  let done = 0;
  let before = '';
  for (;;) {
    const ids = (
      await source.query<{ record: number }[]>(
        `SELECT record FROM tie_due WHERE at <= ? AND chain <= ${LONGEST_CHAIN} AND ${notFailing('tie_due.record')} ORDER BY at, record LIMIT ?`,
        [now, WORK, now, BATCH],
      )
    ).map(({ record }) => record);
    // The same ones again: another server is at them.
    if (ids.length === 0 || ids.join() === before) return done;
    before = ids.join();
    const failed = await eachAlone(source, WORK, ids, now, async (some) => {
      done += await decideTied(source, some, now);
    });
    if (failed.length < ids.length)
      await clearFailures(
        source,
        WORK,
        ids.filter((id) => !failed.includes(id)),
      );
  }
}

/** A change that comes while they are decided makes its row anew, and waits for these locks. */
function decideTied(source: DataSource, ids: readonly number[], now: Date): Promise<number> {
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const due = (
      await manager.query<{ record: number }[]>(
        'SELECT record FROM tie_due WHERE record IN (?) ORDER BY record FOR UPDATE SKIP LOCKED',
        [ids],
      )
    ).map(({ record }) => record);
    if (due.length === 0) return 0;
    const leads = (await loadLeads(manager, due, 'write')).filter(({ entity }) => entity.status === 'open');
    await perform(
      acting,
      leads.map((lead) => again(lead, 'tie-changed', RELVIK, now)),
    );
    await manager.query('DELETE FROM tie_due WHERE record IN (?)', [due]);
    return leads.length;
  });
}
