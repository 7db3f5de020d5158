import type { TieKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Ties } from './act';

/**
 * Says that leads or deals of contacts and companies changed, inside the transaction that changed them: what they feed is looked
 * at, and all are scored again a moment later.
 */
export async function touchParties(manager: EntityManager, tied: readonly Ties[], at: Date): Promise<void> {
  // In one order, so that two who touch the same wait for each other instead of both.
  for (const kind of ['contact', 'company'] as const)
    await touch(manager, kind, [...new Set(tied.flatMap((ties) => ties[kind] ?? []))], at);
}

/** Makes contacts or companies due. */
export async function touch(manager: EntityManager, kind: TieKind, ids: readonly number[], at: Date): Promise<void> {
  if (ids.length === 0) return;
  await manager.query(
    `UPDATE ${kind} SET due = ?, touched = 1, changes = changes + 1, touched_at = GREATEST(touched_at, ?) WHERE id IN (?)`,
    [at, at, [...ids].sort((a, b) => a - b)],
  );
}
