import { type DataSource, type EntityManager, In, LessThan } from 'typeorm';
import { NoticeEntity } from '../store/entity/history.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { errorText, nextTry } from '../store/retry';
import { insertRows } from '../store/rows';
import { inTransaction, isDatabaseAway } from '../store/transaction';

const BATCH = 200;
/** What was carried out is kept for a week. */
const KEPT = 7 * 86_400_000;

/** The next rows that are due, locked; what another server holds is passed over. */
async function claim(manager: EntityManager, now: Date, ids: readonly number[] | null): Promise<OutboxEntity[]> {
  const query = manager
    .createQueryBuilder(OutboxEntity, 'outbox')
    .where("outbox.state = 'waiting' AND outbox.nextAt <= :now", { now })
    .orderBy('outbox.nextAt')
    .addOrderBy('outbox.id')
    .limit(BATCH)
    .setLock('pessimistic_write')
    .setOnLocked('skip_locked');
  return (ids === null ? query : query.andWhere({ id: In([...ids]) })).getMany();
}

/** A notice is told by writing it down: in the same transaction that marks it done, so exactly once. */
async function carryOut(manager: EntityManager, rows: readonly OutboxEntity[], now: Date): Promise<void> {
  await insertRows(
    manager,
    NoticeEntity,
    rows.map(({ id, body: { person, queue, notice, job }, record, at }) => ({
      person,
      queue,
      kind: notice,
      record,
      job,
      at,
      outbox: id,
    })),
  );
  await manager.update(
    OutboxEntity,
    { id: In(rows.map(({ id }) => id)) },
    { state: 'done', endedAt: now, error: null },
  );
}

async function noteFailed(source: DataSource, { id, tries }: OutboxEntity, error: unknown, now: Date): Promise<void> {
  const next = nextTry(now, tries + 1, id);
  await source.manager.update(
    OutboxEntity,
    { id, state: 'waiting' },
    {
      tries: tries + 1,
      error: errorText(error),
      ...(next === null ? { state: 'parked', endedAt: now } : { nextAt: next }),
    },
  );
}

/**
 * Carries out what is due in the outbox. What fails is tried again with growing pauses, and parked when it keeps failing;
 * it holds up nothing else.
 */
export async function deliver(source: DataSource, now: Date): Promise<void> {
  for (;;) {
    let rows: OutboxEntity[] = [];
    try {
      await inTransaction(source, async (manager) => {
        rows = await claim(manager, now, null);
        if (rows.length > 0) await carryOut(manager, rows, now);
      });
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      for (const row of rows) await deliverAlone(source, row, now);
    }
    if (rows.length < BATCH) return;
  }
}

async function deliverAlone(source: DataSource, row: OutboxEntity, now: Date): Promise<void> {
  try {
    await inTransaction(source, async (manager) => {
      const mine = await claim(manager, now, [row.id]);
      if (mine.length > 0) await carryOut(manager, mine, now);
    });
  } catch (error) {
    if (isDatabaseAway(error)) throw error;
    await noteFailed(source, row, error, now);
  }
}

/** Tries what is parked once more. */
export async function sendAgain(source: DataSource, id: number, now: Date): Promise<boolean> {
  const { affected } = await source.manager.update(
    OutboxEntity,
    { id, state: 'parked' },
    { state: 'waiting', tries: 0, nextAt: now, endedAt: null },
  );
  return affected === 1;
}

/** Takes away what was carried out long ago. */
export async function forgetDelivered(source: DataSource, now: Date): Promise<void> {
  await source.manager.delete(OutboxEntity, { state: 'done', endedAt: LessThan(new Date(now.getTime() - KEPT)) });
}
