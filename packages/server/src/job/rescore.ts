import { gradeKey } from '../store/entity/scored.entity';
import { type Reach, touchedSince } from '@relvik/core';
import { type DataSource, type EntityManager, MoreThan, MoreThanOrEqual } from 'typeorm';
import { again } from '../act/act';
import { act } from '../act/acting';
import { perform } from '../act/perform';
import { freeBay } from '../act/free-bay';
import { toSend } from '../act/effects';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { insertRows } from '../store/rows';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads } from '../store/load-leads';
import { CharterEntity, JobEntity, JournalEntity } from '../store/entity/charter.entity';
import { noteFailure } from '../store/failures';
import { charterInForce, CharterUnusable, readGoverning } from '../store/governing';
import { errorText } from '../store/retry';
import { inTransaction, isDatabaseAway } from '../store/transaction';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 100;

/** The occasion that enacting is for the records that it chooses. */
export const OCCASION_OF_REACH: { readonly [R in Reach]: 'enacted' | 'regated' | 'rerouted' } = {
  score: 'enacted',
  gates: 'regated',
  routes: 'rerouted',
};

/** The next records of a job, in order of their ids. */
async function nextIds(manager: EntityManager, job: JobEntity, zone: string, size: number): Promise<number[]> {
  if (job.scope.which === 'new') return [];
  const since = job.scope.which === 'all' ? null : touchedSince(job.startedAt.getTime(), job.scope.months, zone);
  const leads = await manager.find(LeadEntity, {
    select: { id: true },
    where: {
      id: MoreThan(job.cursor),
      // Closed leads keep the score they closed with.
      status: 'open',
      ...(since === null ? {} : { touchedAt: MoreThanOrEqual(new Date(since)) }),
    },
    order: { id: 'ASC' },
    take: size,
  });
  return leads.map((lead) => lead.id);
}

async function finish(manager: EntityManager, job: JobEntity, now: Date): Promise<void> {
  await manager.update(JobEntity, job.id, { state: 'done', done: job.total, endedAt: now });
  const { id, name, number } = await manager.findOneByOrFail(CharterEntity, { number: job.charter });
  const why = `${job.changed} of ${job.total} leads changed their grade`;
  await manager.insert(JournalEntity, { at: now, by: job.startedBy, act: 'finished', charter: id, number, name, why });
  if (job.starter !== null)
    await insertRows(manager, OutboxEntity, [
      toSend({ person: job.starter, queue: null, notice: 'rescored', job: job.id }, null, now),
    ]);
}

/** The rescore that runs, locked. */
function lockRunning(manager: EntityManager): Promise<JobEntity | null> {
  return manager
    .createQueryBuilder(JobEntity, 'job')
    .where({ state: 'running' })
    .orderBy('job.id', 'DESC')
    .limit(1)
    .setLock('pessimistic_write')
    .getOne();
}

/** One batch of a rescore: false when there is none left to do. */
export async function rescoreBatch(source: DataSource, now: Date, size: number): Promise<boolean> {
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const job = await lockRunning(manager);
    if (job === null) return false;
    const governing = await readGoverning(manager, 'share');
    if (governing.number !== job.charter) {
      await manager.update(JobEntity, job.id, { state: 'cancelled', endedAt: now });
      return true;
    }
    const ids = await nextIds(manager, job, governing.ready.charter.timeZone, size);
    if (ids.length === 0) {
      await finish(manager, job, now);
      return true;
    }
    const leads = await loadLeads(manager, ids, 'write');
    // Who was decided by this charter meanwhile has newer values than a rescore would give.
    const outcomes = await perform(
      acting,
      leads
        .filter(({ entity }) => entity.charter !== job.charter)
        .map((lead) => {
          const one = again(
            lead,
            OCCASION_OF_REACH[job.reach],
            { kind: 'charter', charter: job.charter },
            job.startedAt,
          );
          return { ...one, change: { ...one.change, withoutTasks: !job.tasks } };
        }),
      governing,
    );
    const changed = outcomes.filter(
      ({ act: { stored }, after }) => gradeKey(after) !== (stored === null ? null : gradeKey(stored)),
    ).length;
    await manager.update(JobEntity, job.id, {
      cursor: ids.at(-1) ?? job.cursor,
      done: Math.min(job.total, job.done + ids.length),
      changed: job.changed + changed,
    });
    return true;
  });
}

/** Leaves out the next record of the rescore, on which it failed: kept with its error, and counted. */
async function skipRecord(source: DataSource, error: unknown, now: Date): Promise<void> {
  const skipped = await inTransaction(source, async (manager) => {
    const job = await lockRunning(manager);
    if (job === null) return null;
    const { body } = await charterInForce(manager, 'none');
    const [id] = await nextIds(manager, job, body.timeZone, 1);
    if (id === undefined) return null;
    await manager.update(JobEntity, job.id, { cursor: id, done: job.done + 1, failed: job.failed + 1 });
    return id;
  });
  if (skipped !== null) await noteFailure(source, 'rescore', skipped, error, now);
}

/** Ends the rescore: the charter in force can't be used, so that no record could be decided. */
async function fail(source: DataSource, error: unknown, now: Date): Promise<void> {
  await source.manager.update(
    JobEntity,
    { state: 'running' },
    { state: 'failed', error: errorText(error), endedAt: now },
  );
}

/**
 * Carries running rescores to their end; several servers may do so at once, since each batch holds the job.
 *
 * Where the process stops, the next start goes on after the last batch. A batch that fails is done record by record, and a
 * record on which it fails is left out. Afterwards those leave the bay who can.
 */
export async function finishRescores(source: DataSource, now: () => Date): Promise<void> {
  let any = false;
  let alone = 0;
  for (;;) {
    try {
      if (!(await rescoreBatch(source, now(), alone > 0 ? 1 : BATCH))) break;
      any = true;
      alone = Math.max(0, alone - 1);
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      if (error instanceof CharterUnusable) await fail(source, error, now());
      else if (alone > 0) await skipRecord(source, error, now());
      else alone = BATCH;
    }
    await new Promise((resume) => setImmediate(resume));
  }
  if (any) await freeBay(source, now(), 'all');
}
