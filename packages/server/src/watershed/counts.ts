import type { Attention, Distribution, Home, RuleCounts } from '@relvik/contracts';
import type { Charter, Status } from '@relvik/core';
import { type EntityManager, In, type SelectQueryBuilder } from 'typeorm';
import { charterState } from '../charter/charter-life';
import { JobEntity } from '../store/entity/charter.entity';
import { ImportFileEntity } from '../store/entity/import.entity';
import { charterInForce } from '../store/governing';
import { backgroundState } from '../doctor/background-state';
import { inSight, type Sight } from '../session/sight';
import { CompanyEntity } from '../store/entity/company.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { ChangeEntity, NoticeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import type { User } from '../session/session-store';
import { SOURCE_FIELD, watershedOf } from './watershed';

function leads(manager: EntityManager, sight: Sight): SelectQueryBuilder<LeadEntity> {
  return inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight);
}

interface Group {
  readonly key: string | null;
  readonly count: number;
}

async function groupBy(query: SelectQueryBuilder<LeadEntity>, column: string): Promise<Group[]> {
  const rows = await query
    .select(`lead.${column}`, 'key')
    .addSelect('COUNT(*)', 'count')
    .groupBy(`lead.${column}`)
    .getRawMany<{ key: string | null; count: string }>();
  return rows.map(({ key, count }) => ({ key, count: Number(count) })).sort((a, b) => b.count - a.count);
}

async function countAndOldest(query: SelectQueryBuilder<LeadEntity>): Promise<{ count: number; since: number | null }> {
  const row = await query
    .select('COUNT(*)', 'count')
    .addSelect('MIN(lead.since)', 'since')
    .getRawOne<{ count: string; since: Date | null }>();
  return { count: Number(row?.count ?? 0), since: row?.since?.getTime() ?? null };
}

/** What waits for someone, and what the admin should know of. */
async function attentionOf(manager: EntityManager, sight: Sight, user: User, charter: Charter): Promise<Attention[]> {
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
      key === (charter.lastResort as string) ? 'last-resort' : 'queue',
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
  const { draft } = await charterState(manager, user);
  add('draft-problems', null, { count: draft?.problems.length ?? 0, since: null });
  return found;
}

async function noticesFor(manager: EntityManager, sight: Sight, user: User): Promise<Home['notices']> {
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
    ])
    .where('notice.person = :me', { me: user.key });
  if (sight.all) query.orWhere('(notice.person IS NULL AND notice.queue IS NULL)');
  else if (sight.queues.length > 0) query.orWhere('notice.queue IN (:...queues)', { queues: sight.queues });
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

/** The counts and news of the home page, over what the user sees. */
export async function homeOf(manager: EntityManager, sight: Sight, user: User): Promise<Home> {
  const open = (): SelectQueryBuilder<LeadEntity> => leads(manager, sight).andWhere({ status: 'open' });
  const all = (): SelectQueryBuilder<LeadEntity> => leads(manager, sight);
  const { body: charter } = await charterInForce(manager, 'none');
  // From the gates on the course counts those that reached a stage in which routes act.
  const passed = (): SelectQueryBuilder<LeadEntity> =>
    all().andWhere({ stage: In(charter.streams.flatMap((stream) => stream.entering)) });
  const [
    byStatus,
    byStage,
    byGrade,
    byTerritory,
    bySource,
    attention,
    notices,
    intake,
    score,
    gates,
    territories,
    routes,
    people,
    watershed,
  ] = await Promise.all([
    groupBy(all(), 'status'),
    groupBy(open(), 'stage'),
    open()
      .select(['lead.grade AS grade', 'lead.fitBand AS fitBand', 'lead.engagementBand AS engagementBand'])
      .addSelect('COUNT(*)', 'count')
      .andWhere('lead.grade IS NOT NULL')
      .groupBy('lead.grade')
      .addGroupBy('lead.fitBand')
      .addGroupBy('lead.engagementBand')
      .getRawMany<{ grade: string; fitBand: number; engagementBand: number; count: string }>(),
    groupBy(open(), 'territory'),
    sourcesOf(all()),
    attentionOf(manager, sight, user, charter),
    noticesFor(manager, sight, user),
    all().getCount(),
    all().andWhere('lead.fit IS NOT NULL').getCount(),
    passed().getCount(),
    passed().andWhere('lead.territory IS NOT NULL').getCount(),
    passed().andWhere('lead.route IS NOT NULL').getCount(),
    passed().andWhere({ place: 'owner' }).getCount(),
    watershedOf(manager, all, charter),
  ]);
  return {
    watershed,
    course: { intake, score, grade: score, gates, territories, routes, people },
    attention,
    byStatus: byStatus.map(({ key, count }) => ({ status: key as Status, count })),
    byStage: byStage.map(({ key, count }) => ({ stage: key ?? '', count })),
    byGrade: byGrade.map((row) => ({ ...row, count: Number(row.count) })),
    byTerritory: byTerritory.map(({ key, count }) => ({ territory: key, count })),
    bySource,
    notices,
  };
}

async function sourcesOf(query: SelectQueryBuilder<LeadEntity>): Promise<Home['bySource']> {
  const rows = await query
    .innerJoin(FieldValueEntity, 'value', 'value.record = lead.id AND value.field = :source', { source: SOURCE_FIELD })
    .select('value.shown', 'source')
    .addSelect('COUNT(*)', 'count')
    .groupBy('value.shown')
    .getRawMany<{ source: string; count: string }>();
  return rows.map(({ source, count }) => ({ source, count: Number(count) })).sort((a, b) => b.count - a.count);
}

/** Open leads, or companies, by their score of a set, whether it grades them or scores leads beside; per axis. */
export async function distributionOf(manager: EntityManager, set: string): Promise<Distribution> {
  const by = async (axis: 'fit' | 'engagement'): Promise<{ score: number; count: number }[]> => {
    const graded = manager
      .createQueryBuilder(LeadEntity, 'lead')
      .where({ status: 'open', scoreSet: set })
      .andWhere(`lead.${axis} IS NOT NULL`);
    const beside = await manager
      .createQueryBuilder(SideScoreEntity, 'side')
      .innerJoin(LeadEntity, 'lead', 'lead.id = side.record')
      .where('side.scoreSet = :set AND lead.status = :open', { set, open: 'open' })
      .andWhere(`side.${axis} IS NOT NULL`)
      .select(`side.${axis}`, 'key')
      .addSelect('COUNT(*)', 'count')
      .groupBy(`side.${axis}`)
      .getRawMany<{ key: number; count: string }>();
    const companies = await manager
      .createQueryBuilder(CompanyEntity, 'company')
      .where({ scoreSet: set })
      .andWhere(`company.${axis} IS NOT NULL`)
      .select(`company.${axis}`, 'key')
      .addSelect('COUNT(*)', 'count')
      .groupBy(`company.${axis}`)
      .getRawMany<{ key: number; count: string }>();
    const counts = new Map<number, number>();
    for (const { key, count } of [...(await groupBy(graded, axis)), ...beside, ...companies])
      counts.set(Number(key), (counts.get(Number(key)) ?? 0) + Number(count));
    return [...counts].map(([score, count]) => ({ score, count })).sort((a, b) => a.score - b.score);
  };
  return { fit: await by('fit'), engagement: await by('engagement') };
}

/** What the rules came to over all leads. */
export async function ruleCounts(manager: EntityManager): Promise<RuleCounts> {
  const all = (): SelectQueryBuilder<LeadEntity> => manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1');
  const { body: charter } = await charterInForce(manager, 'none');
  const record = (groups: Group[]): Record<string, number> =>
    Object.fromEntries(groups.flatMap(({ key, count }) => (key === null ? [] : [[key, count]])));
  const [routes, territories, gates, cells, companies, openGround] = await Promise.all([
    groupBy(all(), 'route'),
    groupBy(all(), 'territory'),
    manager
      .createQueryBuilder(ChangeEntity, 'change')
      .select('change.rule', 'key')
      .addSelect('COUNT(*)', 'count')
      .where("change.field = 'stage' AND change.rule IS NOT NULL")
      .groupBy('change.rule')
      .getRawMany<{ key: string; count: string }>(),
    all()
      .select(['lead.scoreSet AS scoreSet', 'lead.fitBand AS fitBand', 'lead.engagementBand AS engagementBand'])
      .addSelect('COUNT(*)', 'count')
      .addSelect("SUM(lead.status = 'won')", 'won')
      .addSelect("SUM(lead.status IN ('won', 'lost'))", 'closed')
      .andWhere('lead.grade IS NOT NULL')
      .groupBy('lead.scoreSet')
      .addGroupBy('lead.fitBand')
      .addGroupBy('lead.engagementBand')
      .getRawMany<{
        scoreSet: string;
        fitBand: number;
        engagementBand: number;
        count: string;
        won: string;
        closed: string;
      }>(),
    manager
      .createQueryBuilder(CompanyEntity, 'company')
      .select([
        'company.scoreSet AS scoreSet',
        'company.fitBand AS fitBand',
        'company.engagementBand AS engagementBand',
      ])
      .addSelect('COUNT(*)', 'count')
      .where('company.grade IS NOT NULL')
      .groupBy('company.scoreSet')
      .addGroupBy('company.fitBand')
      .addGroupBy('company.engagementBand')
      .getRawMany<{ scoreSet: string; fitBand: number; engagementBand: number; count: string }>(),
    all()
      .innerJoin(
        FieldValueEntity,
        'value',
        "value.record = lead.id AND value.field = :address AND value.kind = 'text'",
        { address: charter.territories.field },
      )
      .select('value.shown', 'country')
      .addSelect('COUNT(*)', 'count')
      .andWhere('lead.territory IS NULL')
      .groupBy('value.shown')
      .getRawMany<{ country: string; count: string }>(),
  ]);
  return {
    routes: record(routes),
    territories: record(territories),
    gates: Object.fromEntries(gates.map(({ key, count }) => [key, Number(count)])),
    openGround: openGround
      .map(({ country, count }) => ({ country, count: Number(count) }))
      .sort((a, b) => b.count - a.count),
    cells: [...cells, ...companies.map((one) => ({ ...one, won: 0, closed: 0 }))].map(
      ({ scoreSet, fitBand, engagementBand, count, won, closed }) => ({
        scoreSet,
        fitBand,
        engagementBand,
        count: Number(count),
        won: Number(won),
        closed: Number(closed),
      }),
    ),
  };
}
