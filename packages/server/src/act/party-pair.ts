import { sameValue, type TieKind, type Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { recordInSight } from '../session/record-sight';
import { type Sight } from '../session/sight';
import { type Governing } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { dueAcross } from './due-across';
import type { Hand } from './hand';
import { touchUnrouted } from './touch-parties';

/** Two of one kind: the older is the one that came first, and stays. */
export interface PartyPair {
  readonly older: StoredUnrouted;
  readonly younger: StoredUnrouted;
}

/** A field in which the younger has another value than the older. */
export interface PartyDifference {
  readonly field: string;
  readonly older: Value | null;
  readonly younger: Value;
}

export function partyPair(one: StoredUnrouted, two: StoredUnrouted): PartyPair {
  const [a, b] = [one.entity, two.entity];
  const isOlder =
    a.arrived.getTime() < b.arrived.getTime() || (a.arrived.getTime() === b.arrived.getTime() && a.id < b.id);
  return isOlder ? { older: one, younger: two } : { older: two, younger: one };
}

/** The fields in which the younger says something that the older does not. */
export function partyDifferences({ older, younger }: PartyPair): PartyDifference[] {
  return [...younger.record.values].flatMap(([field, value]): PartyDifference[] => {
    const own = older.record.values.get(field);
    return value.kind === 'blank' || sameValue(own, value) ? [] : [{ field, older: own ?? null, younger: value }];
  });
}

/** Loads two contacts or companies in the user's sight. */
export async function loadPair(
  manager: EntityManager,
  kind: TieKind,
  ids: readonly [number, number],
  sight: Sight,
  { ready }: Governing,
  lock: 'none' | 'write',
): Promise<PartyPair> {
  if (ids[0] === ids[1]) throw Refused.as('cannot-join', { detail: 'Choose two different ones.' });
  // In one order, so that two opposite joins wait for each other, and the second finds one gone.
  for (const id of [...ids].sort((a, b) => a - b)) await recordInSight(manager, kind, sight, id, lock);
  const [one, two] = await loadUnrouted(manager, kind, ids, ready);
  if (one === undefined || two === undefined)
    throw Refused.as('cannot-join', { detail: 'One of them was joined into the other meanwhile.' });
  return partyPair(one, two);
}

/** The older is looked at again, and what reads it across a tie. */
export async function decideAcross(
  manager: EntityManager,
  kind: TieKind,
  { entity }: Pick<StoredUnrouted, 'entity'>,
  { ready }: Governing,
  { at }: Hand,
): Promise<void> {
  await manager.query(`UPDATE ${kind} SET version = version + 1 WHERE id = ?`, [entity.id]);
  await touchUnrouted(manager, kind, [entity.id], at);
  const read = (of: 'lead' | 'deal'): number[] => (ready.rules[of].tied.length > 0 ? [entity.id] : []);
  await dueAcross(manager, kind, { leads: read('lead'), deals: read('deal') }, at);
}
