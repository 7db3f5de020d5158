import { type DataSource, MoreThan } from 'typeorm';
import { inTransaction } from '../database/in-transaction';
import { type Case, decideLeads } from '../decide/decide-leads';
import { freeBay } from '../decide/free-bay';
import { LeadEntity } from '../record/lead.entity';
import { loadLeads } from '../record/lead-store';
import { JobEntity } from './charter.entity';
import { readGoverning } from './charter-store';

const BATCH = 200;

/** One batch of a rescore: false when there is none left to do. */
async function rescoreBatch(source: DataSource, now: Date): Promise<boolean> {
  return inTransaction(source, async (manager) => {
    const job = await manager
      .createQueryBuilder(JobEntity, 'job')
      .where({ state: 'running' })
      .orderBy('job.id', 'DESC')
      .limit(1)
      .setLock('pessimistic_write')
      .getOne();
    if (job === null) return false;
    const governing = await readGoverning(manager, 'share');
    if (governing.number !== job.charter) {
      await manager.update(JobEntity, job.id, { state: 'cancelled', endedAt: now });
      return true;
    }
    const ids = (
      await manager.find(LeadEntity, {
        select: { id: true },
        where: { id: MoreThan(job.cursor) },
        order: { id: 'ASC' },
        take: BATCH,
      })
    ).map((lead) => lead.id);
    if (ids.length === 0) {
      await manager.update(JobEntity, job.id, { state: 'done', done: job.total, endedAt: now });
      return true;
    }
    const leads = await loadLeads(manager, ids, 'write');
    // Who was decided by this charter meanwhile has newer values than a rescore would give.
    const cases = leads
      .filter(({ entity }) => entity.charter !== job.charter)
      .map(({ entity, record }): Case => ({
        record,
        stored: entity,
        arrival: null,
        occasion: 'enacted',
        asOf: job.startedAt,
        by: `charter ${job.charter}`,
        values: new Map(),
        valuesBefore: new Map(),
      }));
    const before = new Map(cases.map(({ stored }) => [stored?.id, stored?.grade ?? null]));
    const decisions = await decideLeads(manager, cases, governing);
    const changed = decisions.filter(
      (decision) => (decision.grade?.name ?? null) !== before.get(Number(decision.record)),
    ).length;
    await manager.update(JobEntity, job.id, {
      cursor: ids.at(-1) ?? job.cursor,
      done: Math.min(job.total, job.done + ids.length),
      changed: job.changed + changed,
    });
    return true;
  });
}

/**
 * Carries running rescores to their end; several servers may do so at once, since each batch holds the job.
 *
 * Where the process stops, the next start goes on after the last batch. Afterwards those leave the bay who can.
 */
export async function finishRescores(source: DataSource, now: () => Date): Promise<void> {
  let any = false;
  while (await rescoreBatch(source, now())) any = true;
  if (any) await freeBay(source, now());
}
