import type { EntityManager } from 'typeorm';
import { RecordEntity } from './entity/lead.entity';

/** Makes records, one for each instant; their ids follow each other. */
export async function newRecords(
  manager: EntityManager,
  kind: RecordEntity['kind'],
  at: readonly Date[],
): Promise<number[]> {
  if (at.length === 0) return [];
  const made = await manager
    .createQueryBuilder()
    .insert()
    .into(RecordEntity)
    .values(at.map((createdAt) => ({ kind, createdAt })))
    .updateEntity(false)
    .execute();
  const first = (made.raw as { insertId: number }).insertId;
  return at.map((_, i) => first + i);
}
