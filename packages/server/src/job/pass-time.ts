import type { DataSource, EntityManager } from 'typeorm';
import { again } from '../act/act';
import { act } from '../act/acting';
import { RELVIK } from '../act/cause';
import { perform } from '../act/perform';
import { governedBy, readGoverning } from '../store/governing';
import { heldBack } from '../store/held-back';
import { clearFailures, eachAlone, notFailing } from '../store/failures';
import { loadLeads } from '../store/load-leads';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 100;

/** Due and open; those governed by a charter that can't be applied any more are left out. */
const DUE = "status = 'open' AND changes_at <= ? AND charter NOT IN (?)";

async function dueIds(source: DataSource, now: Date, held: readonly number[]): Promise<number[]> {
  const rows = await source.query<{ id: number }[]>(
    `SELECT id FROM \`lead\` WHERE ${DUE} AND ${notFailing('`lead`.id')} ORDER BY changes_at, id LIMIT ?`,
    [now, held, 'time', now, BATCH],
  );
  return rows.map(({ id }) => id);
}

/**
 * Decides those of the given leads that are still due, each by the charter that gave it its values; what another server holds
 * is passed over.
 *
 * @returns how many it decided
 */
async function decideDue(source: DataSource, ids: readonly number[], now: Date): Promise<number> {
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const inForce = await readGoverning(manager, 'share');
    const due = await manager.query<{ id: number }[]>(
      "SELECT id FROM `lead` WHERE id IN (?) AND status = 'open' AND changes_at <= ? ORDER BY id FOR UPDATE SKIP LOCKED",
      [ids, now],
    );
    const leads = await loadLeads(
      manager,
      due.map(({ id }) => id),
      'write',
    );
    let decided = 0;
    for (const number of new Set(leads.map(({ entity }) => entity.charter))) {
      const by = await governedBy(manager, number, inForce);
      if (by === null) continue;
      const governed = leads.filter(({ entity }) => entity.charter === number);
      await perform(
        acting,
        governed.map((lead) => again(lead, 'time', RELVIK, now)),
        inForce,
        by,
      );
      decided += governed.length;
    }
    return decided;
  });
}

/**
 * Decides the leads of which anything has changed by the passing of time alone; several servers may do so at once.
 *
 * @returns how many were decided
 */
export async function passTime(source: DataSource, now: Date): Promise<number> {
  const held = [NO_CHARTER, ...(await heldBack(source.manager, now)).map(({ charter }) => charter)];
  let done = 0;
  let before: readonly number[] = [];
  for (;;) {
    const ids = await dueIds(source, now, held);
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

/** No charter has this number: a list of SQL must not be empty. */
const NO_CHARTER = 0;

/** The instant as of which the scores of all open leads are right: now, unless some are due and not yet computed. */
export async function scoresAsOf(manager: EntityManager, now: Date): Promise<Date> {
  const held = [NO_CHARTER, ...(await heldBack(manager, now)).map(({ charter }) => charter)];
  const [row] = await manager.query<{ oldest: Date | null }[]>(
    `SELECT MIN(changes_at) AS oldest FROM \`lead\` WHERE ${DUE}`,
    [now, held],
  );
  return row?.oldest ?? now;
}
