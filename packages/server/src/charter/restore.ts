import type { NewDraft } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import type { User } from '../session/session-store';
import { CharterEntity } from '../store/entity/charter.entity';
import { charterInForce } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { insertDraft } from './charter-life';
import { note } from './journal';

/** Begins a draft: a copy of the charter in force, of another draft, or of a past charter (which restores it). It is open then. */
export async function newDraft(
  source: DataSource,
  { name, note: about, from }: NewDraft,
  by: User,
  now: Date,
): Promise<void> {
  await inTransaction(source, async (manager) => {
    const inForce = await charterInForce(manager, 'share');
    const origin = from === undefined ? inForce : await manager.findOneBy(CharterEntity, { id: from });
    if (origin === null) throw Refused.invalid([{ path: '/from', message: 'there is no such charter' }]);
    // A copy of a draft stands on the same charter; what is restored is meant against the one in force.
    const base = origin.number === null ? origin.base : (inForce.number ?? 0);
    const made = await insertDraft(manager, { base, name, body: origin.body, note: about ?? null }, by, now);
    const act = origin.number === null ? 'copied' : origin.inForce === true ? 'begun' : 'restored';
    await note(
      manager,
      act,
      made,
      by,
      now,
      act === 'begun' ? null : `from ${origin.number ?? 'draft'} · ${origin.name}`,
    );
  });
}
