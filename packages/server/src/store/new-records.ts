import type { EntityManager } from 'typeorm';
import type { RecordEntity } from './entity/lead.entity';

/** Makes records, one for each that is given; their ids follow each other. */
export async function newRecords(
  manager: EntityManager,
  made: readonly { readonly kind: RecordEntity['kind']; readonly at: Date }[],
): Promise<number[]> {
  if (made.length === 0) return [];
  const { insertId: first } = await manager.query<{ insertId: number }>(
    'INSERT INTO record (kind, created_at) VALUES ?',
    [made.map(({ kind, at }) => [kind, at])],
  );
  return made.map((_, i) => first + i);
}
