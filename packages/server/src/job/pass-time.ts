import type { DataSource, EntityManager } from 'typeorm';
import { inTransaction } from '../store/transaction';
import { loadLeads } from '../store/load-leads';
import { type Case, decideLeads } from '../act/decide-leads';

/** So few that whoever comes in meanwhile hardly waits. */
const BATCH = 100;

/**
 * Decides the leads whose score has changed by the passing of time alone; several servers may do so at once, since each
 * skips what another holds.
 *
 * @returns how many were due
 */
export async function passTime(source: DataSource, now: Date): Promise<number> {
  let done = 0;
  for (;;) {
    const due = await inTransaction(source, async (manager) => {
      const ids = (
        await manager.query<{ id: number }[]>(
          "SELECT id FROM `lead` WHERE status = 'open' AND changes_at <= ? ORDER BY changes_at, id LIMIT ? FOR UPDATE SKIP LOCKED",
          [now, BATCH],
        )
      ).map(({ id }) => id);
      const leads = await loadLeads(manager, ids, 'write');
      await decideLeads(
        manager,
        leads.map(({ entity, record }): Case => ({
          record,
          stored: entity,
          arrival: null,
          occasion: 'time',
          asOf: now,
          by: 'Relvik',
          values: new Map(),
          valuesBefore: new Map(),
        })),
      );
      return ids.length;
    });
    done += due;
    if (due < BATCH) return done;
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
