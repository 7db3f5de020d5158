import type { EntityManager, SelectQueryBuilder } from 'typeorm';
import { inSight, type Sight } from '../session/sight';
import { LeadEntity } from '../store/entity/lead.entity';

export function leads(manager: EntityManager, sight: Sight): SelectQueryBuilder<LeadEntity> {
  return inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight);
}

export interface Group {
  readonly key: string | null;
  readonly count: number;
}

export async function groupBy(query: SelectQueryBuilder<LeadEntity>, column: string): Promise<Group[]> {
  const rows = await query
    .select(`lead.${column}`, 'key')
    .addSelect('COUNT(*)', 'count')
    .groupBy(`lead.${column}`)
    .getRawMany<{ key: string | null; count: string }>();
  return rows.map(({ key, count }) => ({ key, count: Number(count) })).sort((a, b) => b.count - a.count);
}

export async function countAndOldest(
  query: SelectQueryBuilder<LeadEntity>,
): Promise<{ count: number; since: number | null }> {
  const row = await query
    .select('COUNT(*)', 'count')
    .addSelect('MIN(lead.since)', 'since')
    .getRawOne<{ count: string; since: Date | null }>();
  return { count: Number(row?.count ?? 0), since: row?.since?.getTime() ?? null };
}
