import type { Attention } from '@relvik/contracts';
import { type Charter, isError } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { charterState } from '../charter/charter-life';
import { countProposals } from '../list/count-proposals';
import { overdueTasks } from '../list/tasks';
import { backgroundState } from '../doctor/background-state';
import type { User } from '../session/session-store';
import type { Sight } from '../session/sight';
import type { HeldBack } from '../store/held-back';
import { countOf, type LeadGroup } from './tally';

function countAndOldest(groups: readonly LeadGroup[]): { count: number; since: number | null } {
  return { count: countOf(groups), since: groups.length === 0 ? null : Math.min(...groups.map(({ since }) => since)) };
}

/** The leads that a user is asked to accept or give back. */
async function toAccept(manager: EntityManager, { key }: User): Promise<Attention[]> {
  const [row] = await manager.query<{ n: string; since: Date | null }[]>(
    "SELECT COUNT(*) AS n, MIN(since) AS since FROM `lead` WHERE owner = ? AND status = 'open' AND acceptance = 'asked'",
    [key],
  );
  const count = Number(row?.n ?? 0);
  return count === 0 ? [] : [{ what: 'to-accept', about: key, count, since: row?.since?.getTime() ?? null }];
}

/**
 * Counts leads that wait for someone and, for an admin, faults: failing work, doctor findings, problems of the draft.
 *
 * @param open the open leads in sight
 * @param held open leads that time does not move
 * @param entering the stages in which routes act
 */
export async function attentionOf(
  manager: EntityManager,
  open: readonly LeadGroup[],
  held: readonly HeldBack[],
  entering: ReadonlySet<string>,
  sight: Sight,
  user: User,
  charter: Charter,
  now: Date,
): Promise<Attention[]> {
  const found: Attention[] = await toAccept(manager, user);
  const add = (
    what: Attention['what'],
    about: string | null,
    { count, since }: { count: number; since: number | null },
  ): void => {
    if (count > 0) found.push({ what, about, count, since });
  };
  for (const why of ['unjudged', 'nobody-free', 'loop'] as const)
    add(`bay-${why}`, null, countAndOldest(open.filter((group) => group.why === why)));
  const queued = open.filter(({ place }) => place === 'queue');
  for (const key of [...new Set(queued.map(({ queue }) => queue ?? ''))].sort())
    add(
      key === (charter.lastResort.lead as string) ? 'last-resort' : 'queue',
      key,
      countAndOldest(queued.filter(({ queue }) => queue === key)),
    );
  add('tasks-overdue', null, await overdueTasks(manager, sight, user, now));
  add('to-decide', null, await countProposals(manager, sight, user));
  if (!sight.all) return found;
  add(
    'open-ground',
    null,
    countAndOldest(open.filter(({ territory, stage }) => territory === null && entering.has(stage))),
  );
  const { outbox, failures, doctor } = await backgroundState(manager, now);
  const since = [...failures.map((one) => one.since), ...outbox.parked.map(({ at }) => at)];
  add('failing', null, {
    count: failures.length + outbox.parked.length,
    since: since.length === 0 ? null : Math.min(...since),
  });
  add('doctor', null, {
    count: (doctor?.findings ?? []).reduce((sum, { count }) => sum + count, 0),
    since: doctor?.at ?? null,
  });
  for (const { charter: number, count, since: due } of held)
    add('held-back', String(number), { count, since: due.getTime() });
  const [duplicates] = await manager.query<{ n: string; since: Date | null }[]>(
    'SELECT COUNT(*) AS n, MIN(at) AS since FROM suggestion WHERE settled = 0',
  );
  add('duplicates', null, { count: Number(duplicates?.n ?? 0), since: duplicates?.since?.getTime() ?? null });
  const { draft } = await charterState(manager, user);
  add('draft-problems', null, { count: draft?.findings.filter(isError).length ?? 0, since: null });
  return found;
}
