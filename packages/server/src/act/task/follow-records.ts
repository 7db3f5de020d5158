import type { MadeTask } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { TaskEntity } from '../../store/entity/task.entity';

/** A record that got another owner, or was closed. */
export interface ChangedRecord {
  readonly id: number;
  readonly owner: { readonly before: string | null; readonly after: string | null };
  /** It was closed, and its open tasks are not kept. */
  readonly endsTasks: boolean;
}

/**
 * Open tasks follow their records: those of the owner, and those that nobody has, go to the new owner; those of a closed record
 * are cancelled. What someone else has stays with them. The records must be locked.
 */
export async function followRecords(
  manager: EntityManager,
  changed: readonly ChangedRecord[],
  at: Date,
): Promise<void> {
  const closed = changed.filter(({ endsTasks }) => endsTasks).map(({ id }) => id);
  if (closed.length > 0)
    await manager.query(
      "UPDATE task SET state = 'cancelled', ended_at = ?, ended_by = '', version = version + 1 WHERE record IN (?) AND state = 'open'",
      [at, closed],
    );
  const moves = new Map<string, { before: string | null; after: string | null; records: number[] }>();
  for (const { id, owner } of changed) {
    if (owner.before === owner.after) continue;
    const key = JSON.stringify([owner.before, owner.after]);
    const move = moves.get(key) ?? { ...owner, records: [] };
    move.records.push(id);
    moves.set(key, move);
  }
  for (const { before, after, records } of moves.values())
    await manager.query(
      "UPDATE task SET owner = ?, deputy_for = NULL, version = version + 1 WHERE record IN (?) AND state = 'open' AND (owner IS NULL OR owner = ?)",
      [after, records, before],
    );
}

/** The tasks that rules made for a record, as rows. */
export function taskRows(tasks: readonly MadeTask[], record: number, charter: number, at: Date): Partial<TaskEntity>[] {
  return tasks.map(({ title, work, due, owner, rule }) => ({
    ...{ record, version: 1, title, work, due: new Date(due), owner, deputyFor: null },
    ...{ state: 'open', result: null, endedAt: null, endedBy: '', madeBy: '', madeAt: at, rule, charter },
  }));
}
