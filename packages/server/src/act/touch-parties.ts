import { type TieKind, TIE_KINDS, type UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Ties } from './act';

/** Contacts and companies that are locked and due already, by kind. */
export type Touched = Readonly<Record<TieKind, ReadonlySet<number>>>;

/**
 * Says that leads or deals of contacts and companies changed, inside the transaction that changed them: what they feed is looked
 * at, and all are scored again a moment later.
 */
export async function touchParties(
  manager: EntityManager,
  tied: readonly Ties[],
  at: Date,
  already: Touched | null = null,
): Promise<void> {
  // In one order, so that two who touch the same wait for each other instead of both.
  for (const kind of TIE_KINDS) {
    const ids = new Set(tied.flatMap((ties) => ties[kind] ?? []));
    await touchUnrouted(
      manager,
      kind,
      [...ids].filter((id) => !already?.[kind].has(id)),
      at,
    );
  }
}

/**
 * Locks contacts, companies or deals and makes them due.
 *
 * @returns how many of them there are
 */
export async function touchUnrouted(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
  at: Date,
): Promise<number> {
  if (ids.length === 0) return 0;
  const { affectedRows } = await manager.query<{ affectedRows: number }>(
    `UPDATE ${kind} SET due = ?, touched = 1, changes = changes + 1, touched_at = GREATEST(touched_at, ?) WHERE id IN (?)`,
    [at, at, [...ids].sort((a, b) => a - b)],
  );
  return affectedRows;
}
