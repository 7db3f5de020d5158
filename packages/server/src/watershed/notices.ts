import type { Home, Notice } from '@relvik/contracts';
import { RECORD_KINDS } from '@relvik/core';
import { Brackets, type EntityManager } from 'typeorm';
import type { User } from '../session/session-store';
import { seen, type Sight } from '../session/sight';
import { JobEntity } from '../store/entity/charter.entity';
import { NoticeEntity } from '../store/entity/history.entity';
import { ImportFileEntity } from '../store/entity/import.entity';
import { LeadEntity, RecordEntity } from '../store/entity/lead.entity';
import { RECORD_ENTITIES } from '../store/unrouted-kinds';

/** News for someone, the newest first. */
export async function noticesFor(manager: EntityManager, sight: Sight, user: User): Promise<Home['notices']> {
  const query = manager
    .createQueryBuilder(NoticeEntity, 'notice')
    .leftJoin(RecordEntity, 'rec', 'rec.id = notice.record')
    .leftJoin(LeadEntity, 'lead', 'lead.id = notice.record')
    .leftJoin(RECORD_ENTITIES.deal, 'deal', 'deal.id = notice.record')
    .leftJoin(RECORD_ENTITIES.contact, 'contact', 'contact.id = notice.record')
    .leftJoin(RECORD_ENTITIES.company, 'company', 'company.id = notice.record')
    .leftJoin(JobEntity, 'job', "job.id = notice.job AND notice.kind = 'rescored'")
    .leftJoin(ImportFileEntity, 'file', "file.id = notice.job AND notice.kind = 'imported'")
    .select([
      'notice.id AS id',
      'notice.kind AS kind',
      'notice.record AS record',
      'notice.at AS at',
      'rec.kind AS recordKind',
      'COALESCE(lead.name, deal.name, contact.name, company.name) AS name',
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
  // A record that left one's sight is no news any more, and its name least of all.
  if (!sight.all)
    query.andWhere(
      new Brackets((where) => {
        where.where('notice.record IS NULL').orWhere(seen(sight));
        where.orWhere('COALESCE(deal.owner, contact.owner, company.owner) IN (:...sightOwners)');
        if (sight.named.length > 0) where.orWhere('notice.record IN (:...sightNamed)');
      }),
    );
  const rows = await query.orderBy('notice.id', 'DESC').limit(12).getRawMany<{
    id: number;
    kind: string;
    record: number | null;
    recordKind: string | null;
    at: Date;
    name: string | null;
    company: string | null;
    charter: number | null;
    file: string | null;
  }>();
  return rows.map(({ id, kind, record, recordKind, at, name, company, charter, file }) => ({
    id,
    kind,
    record: recordOf(record, recordKind),
    name: record === null ? (file ?? `Charter ${charter}`) : [name, company].filter(Boolean).join(' · '),
    at: at.getTime(),
  }));
}

/** The record of a notice; null for one that was removed, or joined into another. */
function recordOf(id: number | null, kind: string | null): Notice['record'] {
  const known = RECORD_KINDS.find((one) => one === kind);
  return id === null || known === undefined ? null : { kind: known, id };
}
