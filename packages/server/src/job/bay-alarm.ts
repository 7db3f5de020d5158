import type { DataSource, EntityManager } from 'typeorm';
import { toSend } from '../act/effects';
import { BayToldEntity } from '../store/entity/bay.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { insertRows, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';

const HOUR = 3_600_000;
const BATCH = 200;

/**
 * Tells operations of the leads that have waited in the bay for as long as the admin set, other than for their stream to run; of each stay once, whichever server
 * finds it.
 *
 * @returns of how many it told
 */
export async function tellOfLongWaits(source: DataSource, now: Date): Promise<number> {
  let told = 0;
  for (;;) {
    const some = await inTransaction(source, (manager) => tellOfSome(manager, now));
    told += some;
    if (some < BATCH) return told;
  }
}

async function tellOfSome(manager: EntityManager, now: Date): Promise<number> {
  // Its lock lets one server tell at a time.
  const [alarm] = await manager.query<{ hours: number | null }[]>(
    'SELECT hours FROM bay_alarm WHERE id = 1 FOR UPDATE',
  );
  if (alarm === undefined || alarm.hours === null) return 0;
  const waiting = await manager.query<{ record: number; since: Date }[]>(
    `SELECT l.id AS record, l.since FROM \`lead\` l LEFT JOIN bay_told t ON t.record = l.id AND t.since = l.since
     WHERE l.place = 'bay' AND l.status = 'open' AND JSON_VALUE(l.bay, '$.why') <> 'scheduled' AND l.since <= ? AND t.record IS NULL ORDER BY l.since, l.id LIMIT ${BATCH}`,
    [new Date(now.getTime() - alarm.hours * HOUR)],
  );
  await replaceRows(manager, BayToldEntity, waiting);
  const notice = { person: null, queue: null, notice: 'waits-long', job: null } as const;
  await insertRows(
    manager,
    OutboxEntity,
    waiting.map(({ record }) => toSend(notice, record, now)),
  );
  return waiting.length;
}
