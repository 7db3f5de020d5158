import type { Distribution, RuleCounts } from '@relvik/contracts';
import { UNROUTED_KINDS } from '@relvik/core';
import type { EntityManager, SelectQueryBuilder } from 'typeorm';
import { charterInForce } from '../store/governing';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { routeCounts, type RouteHistory } from './route-counts';

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
  return rows.map(({ key, count }) => ({ key, count: Number(count) }));
}

/** Open leads, or records of another kind, by their score of a set, whether it grades them or scores leads beside; per axis. */
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
    const others: { key: number; count: string }[] = [];
    for (const kind of UNROUTED_KINDS)
      others.push(
        ...(await manager.query<typeof others>(
          `SELECT ${axis} AS \`key\`, COUNT(*) AS count FROM ${kind} WHERE score_set = ? AND ${axis} IS NOT NULL GROUP BY ${axis}`,
          [set],
        )),
      );
    const counts = new Map<number, number>();
    for (const { key, count } of [...(await groupBy(graded, axis)), ...beside, ...others])
      counts.set(Number(key), (counts.get(Number(key)) ?? 0) + Number(count));
    return [...counts].map(([score, count]) => ({ score, count })).sort((a, b) => a.score - b.score);
  };
  return { fit: await by('fit'), engagement: await by('engagement') };
}

/** What the rules came to over all leads. */
export async function ruleCounts(manager: EntityManager, history: RouteHistory): Promise<RuleCounts> {
  const all = (): SelectQueryBuilder<LeadEntity> => manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1');
  const { body: charter, number } = await charterInForce(manager, 'none');
  const record = (groups: Group[]): Record<string, number> =>
    Object.fromEntries(groups.flatMap(({ key, count }) => (key === null ? [] : [[key, count]])));
  const [routes, changed, territories, cells, others, openGround] = await Promise.all([
    routeCounts(manager),
    history.read(manager, number ?? 0),
    groupBy(all(), 'territory'),
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
    Promise.all(
      UNROUTED_KINDS.map((kind) =>
        manager.query<{ scoreSet: string; fitBand: string; engagementBand: string; count: string }[]>(
          `SELECT score_set AS scoreSet, fit_band AS fitBand, engagement_band AS engagementBand, COUNT(*) AS count
           FROM ${kind} WHERE fit_band IS NOT NULL GROUP BY score_set, fit_band, engagement_band`,
        ),
      ),
    ),
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
    routes,
    routesChanged: changed,
    territories: record(territories),
    openGround: openGround
      .map(({ country, count }) => ({ country, count: Number(count) }))
      .sort((a, b) => b.count - a.count),
    cells: [...cells, ...others.flat().map((one) => ({ ...one, won: 0, closed: 0 }))].map(
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
