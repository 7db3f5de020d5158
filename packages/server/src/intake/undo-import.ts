import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ImportFileEntity } from '../store/entity/import.entity';
import { inTransaction } from '../store/transaction';

/**
 * Leads of a file on which somebody, or another way in, has worked since it was taken in; at most 100.
 *
 * @param among null: all of the file
 */
export async function whatWasWorkedOn(
  manager: EntityManager,
  { id, at, endedAt }: ImportFileEntity,
  among: readonly number[] | null = null,
): Promise<number[]> {
  const since = endedAt ?? at;
  const rows = await manager.query<{ lead: number }[]>(
    `SELECT DISTINCT r.lead FROM import_row r WHERE r.file = ? AND r.state IN ('accepted', 'joined') AND (
       EXISTS (SELECT * FROM record_change c WHERE c.record = r.lead AND c.at > ? AND c.cause IN ('hand', 'form', 'api', 'csv'))
       OR EXISTS (SELECT * FROM activity a WHERE a.record = r.lead AND a.at > ?)
       OR NOT EXISTS (SELECT * FROM \`lead\` l WHERE l.id = r.lead)
     ) ${among === null ? '' : 'AND r.lead IN (?)'} ORDER BY r.row LIMIT 100`,
    [id, since, since, among],
  );
  return rows.map(({ lead }) => lead);
}

/**
 * Begins to take an import back, as long as nobody has worked on what came; the background job carries it out.
 *
 * @throws Refused `cannot-undo` naming how many leads were worked on
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
        detail: `${worked.length === 100 ? '100 or more' : worked.length} of its leads were worked on since, lead ${worked[0] ?? 0} among them.`,
      });
    await manager.update(ImportFileEntity, id, { state: 'undoing' });
  });
}
