import { type Occasion, type Reach, touchedSince } from '@relvik/core';
import { type DataSource, type EntityManager, MoreThan, MoreThanOrEqual } from 'typeorm';
import { inTransaction } from '../store/transaction';
import { type Case, decideLeads } from '../act/decide-leads';
import { freeBay } from '../act/free-bay';
import { NoticeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads } from '../store/load-leads';
import { CharterEntity, JobEntity, JournalEntity } from '../store/entity/charter.entity';
import { readGoverning } from '../store/governing';

/** So few that whoever comes in meanwhile hardly waits. */
const BATCH = 100;

const OCCASION: { readonly [R in Reach]: Occasion } = { score: 'enacted', gates: 'regated', routes: 'rerouted' };

/** The next records of a job, in order of their ids. */
async function nextIds(manager: EntityManager, job: JobEntity, zone: string): Promise<number[]> {
  if (job.scope.which === 'new') return [];
  const since = job.scope.which === 'all' ? null : touchedSince(job.startedAt.getTime(), job.scope.months, zone);
  const leads = await manager.find(LeadEntity, {
    select: { id: true },
    where: {
      id: MoreThan(job.cursor),
      ...(since === null ? {} : { touchedAt: MoreThanOrEqual(new Date(since)) }),
    },
    order: { id: 'ASC' },
    take: BATCH,
  });
  return leads.map((lead) => lead.id);
}

async function finish(manager: EntityManager, job: JobEntity, now: Date): Promise<void> {
  await manager.update(JobEntity, job.id, { state: 'done', done: job.total, endedAt: now });
  const { id, name, number } = await manager.findOneByOrFail(CharterEntity, { number: job.charter });
  const why = `${job.changed} of ${job.total} leads changed their grade`;
  await manager.insert(JournalEntity, { at: now, by: job.startedBy, act: 'finished', charter: id, number, name, why });
  if (job.starter !== null)
    await manager.insert(NoticeEntity, {
      person: job.starter,
      queue: null,
      kind: 'rescored',
      record: null,
      job: job.id,
      at: now,
    });
}

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
    const ids = await nextIds(manager, job, governing.ready.charter.timeZone);
    if (ids.length === 0) {
      await finish(manager, job, now);
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
        occasion: OCCASION[job.reach],
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
  while (await rescoreBatch(source, now())) {
    any = true;
    await new Promise((resume) => setImmediate(resume));
  }
  if (any) await freeBay(source, now(), 'all');
}
