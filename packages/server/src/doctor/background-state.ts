import type { BackgroundState } from '@relvik/contracts';
import { type RecordKind, type UnroutedKind, UNROUTED_KINDS } from '@relvik/core';
import { type EntityManager } from 'typeorm';
import { FailureEntity } from '../store/entity/failure.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { WHOLE } from '../store/failures';
import { lastReport } from './examine';

const SHOWN = 100;

/** What waits to leave, what keeps failing, and what the doctor found. */
export async function backgroundState(manager: EntityManager, now: Date): Promise<BackgroundState> {
  const [waiting, oldest, parked, failures, doctor, due] = await Promise.all([
    manager.countBy(OutboxEntity, { state: 'waiting' }),
    manager.findOne(OutboxEntity, { where: { state: 'waiting' }, order: { nextAt: 'ASC', id: 'ASC' } }),
    manager.find(OutboxEntity, { where: { state: 'parked' }, order: { id: 'DESC' }, take: SHOWN }),
    manager.find(FailureEntity, { order: { parked: 'DESC', since: 'ASC' }, take: SHOWN }),
    lastReport(manager),
    dueOf(manager, now),
  ]);
  return {
    outbox: {
      waiting,
      oldest: oldest?.at.getTime() ?? null,
      parked: parked.map(({ id, body, record, at, tries, error }) => ({
        id,
        notice: body.notice,
        to: body.person ?? body.queue,
        lead: record,
        at: at.getTime(),
        tries,
        error: error ?? '',
      })),
    },
    due,
    failures: failures.map(({ work, record, tries, error, since, nextAt, parked: isParked }) => ({
      work,
      record: record === WHOLE ? null : record,
      tries,
      error,
      since: since.getTime(),
      nextAt: isParked ? null : nextAt.getTime(),
    })),
    doctor,
  };
}

async function dueOf(manager: EntityManager, now: Date): Promise<BackgroundState['due']> {
  const dueIn = (kind: UnroutedKind): string => `(SELECT COUNT(*) FROM ${kind} WHERE due <= ?) AS ${kind}`;
  const [row] = await manager.query<Record<RecordKind, string>[]>(
    `SELECT (SELECT COUNT(*) FROM tie_due) AS \`lead\`, ${UNROUTED_KINDS.map(dueIn).join(', ')}`,
    UNROUTED_KINDS.map(() => now),
  );
  const of = (kind: RecordKind): number => Number(row?.[kind] ?? 0);
  return { lead: of('lead'), contact: of('contact'), company: of('company'), deal: of('deal') };
}

/** Lets work that keeps failing on a record be tried again at once. */
export async function tryAgain(manager: EntityManager, work: string, record: number, now: Date): Promise<boolean> {
  const { affected } = await manager.update(FailureEntity, { work, record }, { parked: false, nextAt: now, tries: 0 });
  return affected === 1;
}
