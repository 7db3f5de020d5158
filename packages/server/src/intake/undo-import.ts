import type { RecordKind } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ImportFileEntity } from '../store/entity/import.entity';
import { inTransaction } from '../store/transaction';
import { BELOW } from '../store/unrouted-kinds';

/**
 * Records of a file on which somebody, or another way in, has worked since it was taken in, and those it made to which something is
 * tied since; at most 100.
 *
 * @param among null: all of the file
 */
export async function whatWasWorkedOn(
  manager: EntityManager,
  { id, kind, at, endedAt }: ImportFileEntity,
  among: readonly number[] | null = null,
): Promise<number[]> {
  const since = endedAt ?? at;
  // An activity noted later may have an earlier instant. A lead was touched then; on other records of the file any activity is work.
  const made =
    kind === 'lead'
      ? 'EXISTS (SELECT * FROM `lead` t WHERE t.id = r.record AND t.touched_at > ?)'
      : [...BELOW[kind], ['activity', 'record'] as const]
          .map(([table, column]) => `EXISTS (SELECT * FROM \`${table}\` b WHERE b.${column} = r.record)`)
          .join(' OR ');
  const rows = await manager.query<{ record: number }[]>(
    `SELECT DISTINCT r.record FROM import_row r WHERE r.file = ? AND r.state IN ('accepted', 'joined') AND (
       EXISTS (SELECT * FROM record_change c WHERE c.record = r.record AND c.at > ? AND c.cause IN ('hand', 'form', 'api', 'csv'))
       OR EXISTS (SELECT * FROM activity a WHERE a.record = r.record AND a.at > ?)
       OR NOT EXISTS (SELECT * FROM \`${kind}\` l WHERE l.id = r.record)
       OR (r.state = 'accepted' AND (${made}))
     ) ${among === null ? '' : 'AND r.record IN (?)'} ORDER BY r.row LIMIT 100`,
    [id, since, since, ...(kind === 'lead' ? [since] : []), ...(among === null ? [] : [among])],
  );
  return rows.map(({ record }) => record);
}

function detailOf(kind: RecordKind, worked: readonly number[]): string {
  const count = worked.length === 100 ? '100 or more' : String(worked.length);
  const [first = 0] = worked;
  return kind === 'lead'
    ? `${count} of its leads were worked on since, lead ${first} among them.`
    : `${count} of its records were worked on since, or others are tied to them: ${kind} ${first} is one.`;
}

/**
 * Begins to take an import back, as long as nobody has worked on what came; the background job carries it out.
 *
 * @throws Refused `cannot-undo` naming how many records were worked on
 */
export async function undoImport(source: DataSource, id: number): Promise<void> {
  await inTransaction(source, async (manager) => {
    const file = await manager
      .createQueryBuilder(ImportFileEntity, 'file')
      .where({ id })
      .setLock('pessimistic_write')
      .getOne();
    if (file === null) throw Refused.notFound();
    if (file.state === 'undoing' || file.state === 'undone') return;
    if (file.state === 'running')
      throw Refused.as('cannot-undo', { detail: 'The file is still being taken in. Wait until it is done.' });
    const worked = await whatWasWorkedOn(manager, file);
    if (worked.length > 0)
      throw Refused.as('cannot-undo', {
        detail: detailOf(file.kind, worked),
      });
    await manager.update(ImportFileEntity, id, { state: 'undoing' });
  });
}
