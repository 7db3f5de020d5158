import type { EntityManager } from 'typeorm';
import type { RecordEntity } from './entity/lead.entity';

/** Makes records, one for each instant; their ids follow each other. */
export async function newRecords(
  manager: EntityManager,
  kind: RecordEntity['kind'],
  at: readonly Date[],
): Promise<number[]> {
  if (at.length === 0) return [];
  const { insertId: first } = await manager.query<{ insertId: number }>(
    'INSERT INTO record (kind, created_at) VALUES ?',
    [at.map((createdAt) => [kind, createdAt])],
  );
  return at.map((_, i) => first + i);
}
