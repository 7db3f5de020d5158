import type { Distribution, Home, RuleCounts } from '@relvik/contracts';
import type { Status } from '@relvik/core';
import { type EntityManager, In, type SelectQueryBuilder } from 'typeorm';
import { charterInForce } from '../store/governing';
import type { Sight } from '../session/sight';
import { CompanyEntity } from '../store/entity/company.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import type { User } from '../session/session-store';
import { attentionOf, noticesFor } from './attention';
import { type Group, groupBy, leads } from './group-leads';
import { SOURCE_FIELD, watershedOf } from './watershed';

/** The counts and news of the home page, over what the user sees. */
export async function homeOf(manager: EntityManager, sight: Sight, user: User, now: Date): Promise<Home> {
  const open = (): SelectQueryBuilder<LeadEntity> => leads(manager, sight).andWhere({ status: 'open' });
  const all = (): SelectQueryBuilder<LeadEntity> => leads(manager, sight);
  const { body: charter } = await charterInForce(manager, 'none');
  // From the gates on the course counts those that reached a stage in which routes act.
  const passed = (): SelectQueryBuilder<LeadEntity> =>
    all().andWhere({ stage: In(charter.streams.flatMap((stream) => stream.entering)) });
  const [
    byStatus,
    byStage,
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
    groupBy(open(), 'territory'),
    sourcesOf(all()),
    attentionOf(manager, sight, user, charter, now),
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
      .andWhere('lead.fitBand IS NOT NULL')
      .groupBy('lead.scoreSet')
      .addGroupBy('lead.fitBand')
      .addGroupBy('lead.engagementBand')
      .getRawMany<{
        scoreSet: string;
        fitBand: string;
        engagementBand: string;
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
      .where('company.fitBand IS NOT NULL')
      .groupBy('company.scoreSet')
      .addGroupBy('company.fitBand')
      .addGroupBy('company.engagementBand')
      .getRawMany<{ scoreSet: string; fitBand: string; engagementBand: string; count: string }>(),
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
