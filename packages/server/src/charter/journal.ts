import type { JournalAct, JournalRow } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import type { User } from '../session/session-store';
import { type CharterEntity, JournalEntity } from '../store/entity/charter.entity';

/** Writes down who did what. */
export async function note(
  manager: EntityManager,
  act: JournalAct,
  { id, number, name }: Pick<CharterEntity, 'id' | 'number' | 'name'>,
  by: User,
  at: Date,
  why: string | null = null,
): Promise<void> {
  await manager.insert(JournalEntity, { at, by: by.name, act, charter: id, number, name, why });
}

/** What was done with charters, newest first. */
export async function readJournal(manager: EntityManager): Promise<JournalRow[]> {
  const rows = await manager.find(JournalEntity, { order: { id: 'DESC' }, take: 200 });
  return rows.map(({ id, at, by, act, charter, number, name, why }) => ({
    id,
    at: at.getTime(),
    by,
    act,
    charter,
    number,
    name,
    why,
  }));
}
