import type { Enact, Job } from '@relvik/contracts';
import {
  type Charter,
  charterFindings,
  type EnactScope,
  type Finding,
  findingPlace,
  findingWords,
  isError,
  namesOf,
  type Surroundings,
  touchedSince,
  TIE_KINDS,
} from '@relvik/core';
import { type DataSource, type EntityManager, MoreThanOrEqual } from 'typeorm';
import { Refused } from '../problem/refused';
import { inTransaction } from '../store/transaction';
import { LeadEntity } from '../store/entity/lead.entity';
import type { User } from '../session/session-store';
import { CharterEntity, JobEntity, OpenDraftEntity } from '../store/entity/charter.entity';
import { lockDraft } from './charter-life';
import { readWorldOutside } from '../store/governing';
import { withdrawGone } from '../act/proposals';
import { note } from './journal';
import { moveMerged } from './move-merged';

/**
 * Puts a draft in force, and begins the rescore of the records chosen, as far as asked.
 *
 * From the commit on, every decision uses it. A rescore that still runs for the one before is cancelled.
 */
export async function enactDraft(source: DataSource, id: number, enact: Enact, by: User, now: Date): Promise<Job> {
  const { version, reason, scope = { which: 'all' }, reach = 'score', tasks = true } = enact;
  return inTransaction(source, async (manager) => {
    // The one in force is locked first: whoever decides holds it shared, so this waits for decisions under way.
    const inForce = await manager
      .createQueryBuilder(CharterEntity, 'charter')
      .where({ inForce: true })
      .setLock('pessimistic_write')
      .getOneOrFail();
    const draft = await lockDraft(manager, id, version);
    if (draft.base !== inForce.number)
      throw Refused.as('draft-out-of-date', {
        detail: `It was copied from charter ${draft.base}; charter ${inForce.number ?? 0} is in force. Bring it up to date first.`,
      });
    const world = await readWorldOutside(manager);
    const errors = charterFindings(draft.body, world).filter(isError);
    if (errors.length > 0) throw notReady(draft.body, errors, world);

    const number = draft.base + 1;
    await manager.update(CharterEntity, inForce.id, { inForce: null });
    await manager.update(CharterEntity, id, { inForce: true, number, enactedAt: now, reason, author: by.name });
    await manager.delete(OpenDraftEntity, { charter: id });
    await moveMerged(manager, draft.body, number, now);
    await withdrawGone(manager, draft.body, now);
    await note(manager, 'enacted', { id, name: draft.name, number }, by, now, reason);
    await manager.update(JobEntity, { state: 'running' }, { state: 'cancelled', endedAt: now });
    const job = {
      state: 'running' as const,
      charter: number,
      scope,
      reach,
      tasks,
      total: await countChosen(manager, scope, draft.body.timeZone, now),
      done: 0,
      changed: 0,
      failed: 0,
      error: null,
      cursor: 0,
      startedBy: by.name,
      starter: by.key,
      startedAt: now,
      endedAt: null,
    };
    // Nothing but their scores follows from it: all contacts and companies are scored again.
    if (scope.which !== 'new') {
      for (const kind of TIE_KINDS)
        await manager.query(`UPDATE ${kind} SET due = ?, touched = 1, changes = changes + 1`, [now]);
      // Deals are decided again as far as enacting goes: it is not said that anything happened with them.
      await manager.query("UPDATE deal SET due = ?, charter = NULL, changes = changes + 1 WHERE status = 'open'", [
        now,
      ]);
    }
    const made = await manager.insert(JobEntity, job);
    return jobState({ ...job, id: (made.identifiers[0] as { id: number }).id }, now);
  });
}

/** How many leads a rescore goes through: the open ones that its scope chooses. */
function countChosen(manager: EntityManager, scope: EnactScope, zone: string, now: Date): Promise<number> | number {
  if (scope.which === 'new') return 0;
  const since = scope.which === 'all' ? new Date(0) : new Date(touchedSince(now.getTime(), scope.months, zone));
  return manager.countBy(LeadEntity, { status: 'open', touchedAt: MoreThanOrEqual(since) });
}

/** Stops a rescore: what was rescored stays so, the rest keeps what it has until its next occasion. */
export async function cancelJob(source: DataSource, id: number, by: User, now: Date): Promise<Job> {
  return inTransaction(source, async (manager) => {
    const job = await manager.createQueryBuilder(JobEntity, 'job').where({ id }).setLock('pessimistic_write').getOne();
    if (job === null) throw Refused.notFound();
    if (job.state !== 'running') throw Refused.as('job-ended', { detail: `The rescore is ${job.state}.` });
    await manager.update(JobEntity, id, { state: 'cancelled', endedAt: now });
    const charter = await manager.findOneByOrFail(CharterEntity, { number: job.charter });
    await note(manager, 'cancelled', charter, by, now, `after ${job.done} of ${job.total} leads`);
    job.state = 'cancelled';
    job.endedAt = now;
    return jobState(job, now);
  });
}

export function jobState(job: JobEntity, now: Date): Job {
  const { id, state, charter, scope, reach, done, total, changed, failed, error, startedBy, startedAt, endedAt } = job;
  return {
    id,
    state,
    charter,
    scope,
    reach,
    startedBy,
    done,
    total,
    changed,
    failed,
    error,
    startedAt: startedAt.getTime(),
    endedAt: endedAt?.getTime() ?? null,
    expectedEnd: state === 'running' ? expectedEnd(job, now.getTime()) : null,
  };
}

/** At the pace so far, from the start. */
function expectedEnd({ done, total, startedAt }: JobEntity, now: number): number | null {
  if (done === 0) return null;
  return Math.round(now + ((now - startedAt.getTime()) / done) * (total - done));
}

/** The latest rescore, or null. */
export async function latestJob(manager: EntityManager, now: Date): Promise<Job | null> {
  const [job] = await manager.find(JobEntity, { order: { id: 'DESC' }, take: 1 });
  return job === undefined ? null : jobState(job, now);
}

/** @param errors findings that keep it from coming into force */
function notReady(charter: Charter, errors: readonly Finding[], world: Surroundings): Refused {
  const wording = { names: namesOf(charter, world), fields: world.fields, baseCurrency: charter.baseCurrency };
  return Refused.as('charter-not-ready', {
    errors: errors.map((one) => ({ path: `/charter${findingPlace(one)}`, message: findingWords(one, wording) })),
  });
}
