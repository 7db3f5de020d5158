import type { Attention, Home } from '@relvik/contracts';
import { type Charter, isError } from '@relvik/core';
import { Brackets, type EntityManager, In, type SelectQueryBuilder } from 'typeorm';
import { charterState } from '../charter/charter-life';
import { backgroundState } from '../doctor/background-state';
import type { User } from '../session/session-store';
import { seen, type Sight } from '../session/sight';
import { JobEntity } from '../store/entity/charter.entity';
import { NoticeEntity } from '../store/entity/history.entity';
import { ImportFileEntity } from '../store/entity/import.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { heldBack } from '../store/held-back';
import { countAndOldest, groupBy, leads } from './group-leads';

/** What waits for someone, and what the admin should know of. */
export async function attentionOf(
  manager: EntityManager,
  sight: Sight,
  user: User,
  charter: Charter,
  now: Date,
): Promise<Attention[]> {
  const found: Attention[] = [];
  const add = (
    what: Attention['what'],
    about: string | null,
    { count, since }: { count: number; since: number | null },
  ): void => {
    if (count > 0) found.push({ what, about, count, since });
  };
  const open = (): SelectQueryBuilder<LeadEntity> => leads(manager, sight).andWhere({ status: 'open' });
  for (const why of ['unjudged', 'nobody-free', 'loop'] as const) {
    add(
      `bay-${why}`,
      null,
      await countAndOldest(
        open()
          .andWhere({ place: 'bay' })
          .andWhere('lead.bay LIKE :why', { why: `{"why":"${why}"%` }),
      ),
    );
  }
  const queues = (await groupBy(open().andWhere({ place: 'queue' }), 'queue')).map(({ key }) => key ?? '').sort();
  for (const key of queues) {
    add(
      key === (charter.lastResort.lead as string) ? 'last-resort' : 'queue',
      key,
      await countAndOldest(open().andWhere({ place: 'queue', queue: key })),
    );
  }
  if (!sight.all) return found;
  add(
    'open-ground',
    null,
    await countAndOldest(
      open()
        .andWhere('lead.territory IS NULL')
        .andWhere({ stage: In(charter.streams.flatMap((stream) => stream.entering)) }),
    ),
  );
  const { outbox, failures, doctor } = await backgroundState(manager);
  const since = [...failures.map((one) => one.since), ...outbox.parked.map(({ at }) => at)];
  add('failing', null, {
    count: failures.length + outbox.parked.length,
    since: since.length === 0 ? null : Math.min(...since),
  });
  add('doctor', null, {
    count: (doctor?.findings ?? []).reduce((sum, { count }) => sum + count, 0),
    since: doctor?.at ?? null,
  });
  for (const { charter: number, count, since: due } of await heldBack(manager, now))
    add('held-back', String(number), { count, since: due.getTime() });
  const { draft } = await charterState(manager, user);
  add('draft-problems', null, { count: draft?.findings.filter(isError).length ?? 0, since: null });
  return found;
}

/** News for someone, the newest first. */
export async function noticesFor(manager: EntityManager, sight: Sight, user: User): Promise<Home['notices']> {
  const query = manager
    .createQueryBuilder(NoticeEntity, 'notice')
    .leftJoin(LeadEntity, 'lead', 'lead.id = notice.record')
    .leftJoin(JobEntity, 'job', "job.id = notice.job AND notice.kind = 'rescored'")
    .leftJoin(ImportFileEntity, 'file', "file.id = notice.job AND notice.kind = 'imported'")
    .select([
      'notice.id AS id',
      'notice.kind AS kind',
      'notice.record AS record',
      'notice.at AS at',
      'lead.name AS name',
      'lead.company AS company',
      'COALESCE(job.charter, 0) AS charter',
      'file.name AS file',
    ]);
  const alsoFor = sight.all
    ? ' OR (notice.person IS NULL AND notice.queue IS NULL)'
    : sight.queues.length > 0
      ? ' OR notice.queue IN (:...queues)'
      : '';
  query.where(`(notice.person = :me${alsoFor})`, { me: user.key, ...(sight.all ? {} : { queues: sight.queues }) });
  // A lead that left one's sight is no news any more, and who it is least of all.
  if (!sight.all) query.andWhere(new Brackets((where) => where.where('notice.record IS NULL').orWhere(seen(sight))));
  const rows = await query.orderBy('notice.id', 'DESC').limit(12).getRawMany<{
    id: number;
    kind: string;
    record: number | null;
    at: Date;
    name: string | null;
    company: string | null;
    charter: number | null;
    file: string | null;
  }>();
  return rows.map(({ id, kind, record, at, name, company, charter, file }) => ({
    id,
    kind,
    lead: record,
    name: record === null ? (file ?? `Charter ${charter}`) : [name, company].filter(Boolean).join(' · '),
    at: at.getTime(),
  }));
}
