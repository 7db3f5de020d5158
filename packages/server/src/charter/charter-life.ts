import type { CharterState, Draft, Job } from '@relvik/contracts';
import { bindCharter, type Charter, type Problem, readCharter } from '@relvik/core';
import { type DataSource, type EntityManager, IsNull } from 'typeorm';
import { Refused } from '../api/refused';
import { inTransaction } from '../database/in-transaction';
import { LeadEntity } from '../record/lead.entity';
import { CharterEntity, JobEntity } from './charter.entity';
import { charterInForce, readWorldOutside } from './charter-store';

function problemsOf(charter: Charter, world: Awaited<ReturnType<typeof readWorldOutside>>): readonly Problem[] {
  const binding = bindCharter(charter, world.fields, world);
  return binding.ok ? [] : binding.problems;
}

async function findDraft(manager: EntityManager, lock: 'none' | 'write'): Promise<CharterEntity | null> {
  const query = manager
    .createQueryBuilder(CharterEntity, 'charter')
    .where({ number: IsNull() })
    .orderBy('charter.id')
    .limit(1);
  return (lock === 'write' ? query.setLock('pessimistic_write') : query).getOne();
}

/** The charter in force, and the open draft. */
export async function charterState(manager: EntityManager): Promise<CharterState> {
  const inForce = await charterInForce(manager, 'none');
  const draft = await findDraft(manager, 'none');
  const world = await readWorldOutside(manager);
  return {
    inForce: {
      id: inForce.id,
      number: inForce.number ?? 0,
      enactedAt: (inForce.enactedAt ?? inForce.changedAt).getTime(),
      charter: inForce.body,
    },
    draft: draft && describeDraft(draft, inForce, world),
  };
}

function describeDraft(
  draft: CharterEntity,
  inForce: CharterEntity,
  world: Awaited<ReturnType<typeof readWorldOutside>>,
): Draft {
  const { id, version, base, author, changedAt, body } = draft;
  return {
    id,
    version,
    base,
    author,
    changedAt: changedAt.getTime(),
    charter: body,
    stale: base !== inForce.number,
    problems: problemsOf(body, world),
  };
}

/** A new draft: a copy of the charter in force under a name of its own. One at a time. */
export async function newDraft(source: DataSource, name: string, author: string, now: Date): Promise<void> {
  await inTransaction(source, async (manager) => {
    if ((await findDraft(manager, 'write')) !== null)
      throw Refused.conflict('There is a draft already', 'Enact it or discard it first.');
    const inForce = await charterInForce(manager, 'share');
    await manager.insert(CharterEntity, {
      inForce: null,
      number: null,
      base: inForce.number ?? 0,
      name,
      body: { ...inForce.body, name },
      version: 1,
      author,
      changedAt: now,
      enactedAt: null,
      reason: null,
    });
  });
}

async function lockDraft(manager: EntityManager, id: number, version: number): Promise<CharterEntity> {
  const draft = await findDraft(manager, 'write');
  if (draft?.id !== id) throw Refused.notFound();
  if (draft.version !== version) {
    throw Refused.conflict(
      'Someone changed this draft meanwhile',
      `${draft.author} saved it after you opened it. Load it again and make your change on what is there now.`,
    );
  }
  return draft;
}

/** Saves a draft. Its form must be right; what it names wrongly is kept and said as problems. */
export async function saveDraft(
  source: DataSource,
  id: number,
  version: number,
  json: unknown,
  author: string,
  now: Date,
): Promise<void> {
  const reading = readCharter(json);
  if (!reading.ok)
    throw Refused.invalid(
      reading.problems.map(({ path, message }) => ({ path: `/charter${path}`, message })),
      'The draft was not saved',
    );
  await inTransaction(source, async (manager) => {
    await lockDraft(manager, id, version);
    await manager.update(CharterEntity, id, {
      body: reading.charter,
      name: reading.charter.name,
      version: version + 1,
      author,
      changedAt: now,
    });
  });
}

export async function discardDraft(source: DataSource, id: number): Promise<void> {
  await inTransaction(source, async (manager) => {
    const draft = await findDraft(manager, 'write');
    if (draft?.id !== id) throw Refused.notFound();
    await manager.delete(CharterEntity, id);
  });
}

/**
 * Puts a draft in force, and begins the rescore of all records: score and grade.
 *
 * From the commit on, every decision uses it. A rescore that still runs for the one before is cancelled.
 */
export async function enactDraft(
  source: DataSource,
  id: number,
  version: number,
  reason: string,
  by: string,
  now: Date,
): Promise<Job> {
  return inTransaction(source, async (manager) => {
    // The one in force is locked first: whoever decides holds it shared, so this waits for decisions under way.
    const inForce = await manager
      .createQueryBuilder(CharterEntity, 'charter')
      .where({ inForce: true })
      .setLock('pessimistic_write')
      .getOneOrFail();
    const draft = await lockDraft(manager, id, version);
    if (draft.base !== inForce.number)
      throw Refused.conflict(
        'Another charter has come into force since this draft was made',
        `It was copied from charter ${draft.base}; charter ${inForce.number ?? 0} is in force.`,
      );
    const problems = problemsOf(draft.body, await readWorldOutside(manager));
    if (problems.length > 0)
      throw Refused.invalid(
        problems.map(({ path, message }) => ({ path: `/charter${path}`, message })),
        'The draft can’t be enacted',
      );

    const number = draft.base + 1;
    await manager.update(CharterEntity, inForce.id, { inForce: null });
    await manager.update(CharterEntity, id, { inForce: true, number, enactedAt: now, reason, author: by });
    await manager.update(JobEntity, { state: 'running' }, { state: 'cancelled', endedAt: now });
    const total = await manager.count(LeadEntity);
    const job = {
      state: 'running' as const,
      charter: number,
      total,
      done: 0,
      changed: 0,
      cursor: 0,
      startedBy: by,
      startedAt: now,
      endedAt: null,
    };
    const made = await manager.insert(JobEntity, job);
    return jobState({ ...job, id: (made.identifiers[0] as { id: number }).id });
  });
}

export function jobState({ id, state, charter, done, total, changed, startedAt, endedAt }: JobEntity): Job {
  return {
    id,
    state,
    charter,
    done,
    total,
    changed,
    startedAt: startedAt.getTime(),
    endedAt: endedAt?.getTime() ?? null,
  };
}

/** The latest rescore, or null. */
export async function latestJob(manager: EntityManager): Promise<Job | null> {
  const [job] = await manager.find(JobEntity, { order: { id: 'DESC' }, take: 1 });
  return job === undefined ? null : jobState(job);
}
