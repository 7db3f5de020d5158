import type { DataSource, EntityManager } from 'typeorm';
import { again } from '../act/act';
import { act } from '../act/acting';
import { RELVIK } from '../act/cause';
import { perform } from '../act/perform';
import { clearFailures, eachAlone, notFailing } from '../store/failures';
import { loadLeads } from '../store/load-leads';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 100;

async function dueIds(source: DataSource, now: Date): Promise<number[]> {
  const rows = await source.query<{ id: number }[]>(
    `SELECT id FROM \`lead\` WHERE status = 'open' AND changes_at <= ? AND ${notFailing('`lead`.id')}
     ORDER BY changes_at, id LIMIT ?`,
    [now, 'time', now, BATCH],
  );
  return rows.map(({ id }) => id);
}

/**
 * Decides those of the given leads that are still due; what another server holds is passed over.
 *
 * @returns how many it decided
 */
async function decideDue(source: DataSource, ids: readonly number[], now: Date): Promise<number> {
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const due = await manager.query<{ id: number }[]>(
      "SELECT id FROM `lead` WHERE id IN (?) AND status = 'open' AND changes_at <= ? ORDER BY id FOR UPDATE SKIP LOCKED",
      [ids, now],
    );
    const leads = await loadLeads(
      manager,
      due.map(({ id }) => id),
      'write',
    );
    await perform(
      acting,
      leads.map((lead) => again(lead, 'time', RELVIK, now)),
    );
    return leads.length;
  });
}

/**
 * Decides the leads whose score has changed by the passing of time alone; several servers may do so at once.
 *
 * @returns how many were decided
 */
export async function passTime(source: DataSource, now: Date): Promise<number> {
  let done = 0;
  let before: readonly number[] = [];
  for (;;) {
    const ids = await dueIds(source, now);
    // The same ones again: another server is at them.
    if (ids.length === 0 || ids.join() === before.join()) return done;
    const failed = await eachAlone(source, 'time', ids, now, async (some) => {
      done += await decideDue(source, some, now);
    });
    if (failed.length < ids.length)
      await clearFailures(
        source,
        'time',
        ids.filter((id) => !failed.includes(id)),
      );
    before = ids;
  }
}

/** The instant as of which the scores of all open leads are right: now, unless some are due and not yet computed. */
export async function scoresAsOf(manager: EntityManager, now: Date): Promise<Date> {
  const [row] = await manager.query<{ oldest: Date | null }[]>(
    "SELECT MIN(changes_at) AS oldest FROM `lead` WHERE status = 'open' AND changes_at <= ?",
    [now],
  );
  return row?.oldest ?? now;
}
