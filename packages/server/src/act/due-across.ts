import { type TieKind, TIE_KINDS, type UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Governing } from '../store/governing';

/**
 * Makes due what is tied to contacts or companies that changed: open leads and deals are decided again.
 *
 * @param changed the contacts or companies whose leads, and whose deals, read what changed
 */
export async function dueAcross(
  manager: EntityManager,
  tie: TieKind,
  { leads, deals }: { readonly leads: readonly number[]; readonly deals: readonly number[] },
  now: Date,
): Promise<void> {
  const column = tie === 'contact' ? 'contact' : 'company_id';
  if (leads.length > 0)
    await manager.query(
      `INSERT INTO tie_due (record, cause, chain, at) SELECT id, ${column}, 1, ? FROM \`lead\` WHERE ${column} IN (?) AND status = 'open'
       ON DUPLICATE KEY UPDATE cause = VALUES(cause), at = LEAST(at, VALUES(at))`,
      [now, leads],
    );
  if (deals.length > 0)
    await manager.query(
      `UPDATE deal SET due = ?, touched = 1, changes = changes + 1 WHERE ${tie} IN (?) AND status = 'open'`,
      [now, deals],
    );
}

/** An activity of a contact is an occasion for its open leads and deals: they are decided again. */
export function makeDueBelow(manager: EntityManager, contacts: readonly number[], at: Date): Promise<void> {
  return dueAcross(manager, 'contact', { leads: contacts, deals: contacts }, at);
}

/** The open leads and deals whose conditions read what changed. */
export async function dueBelow(
  manager: EntityManager,
  kind: UnroutedKind,
  id: number,
  changed: readonly string[],
  { ready }: Governing,
  at: Date,
): Promise<void> {
  const tie: TieKind | undefined = TIE_KINDS.find((one) => one === kind);
  if (tie === undefined) return;
  const read = (of: 'lead' | 'deal'): number[] =>
    ready.rules[of].tied.some((key) => changed.includes(key)) ? [id] : [];
  await dueAcross(manager, tie, { leads: read('lead'), deals: read('deal') }, at);
}
