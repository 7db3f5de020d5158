import type { IntakeState } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import { unreadableValues } from '../store/unreadable-values';
import { readFields } from '../store/governing';

interface FieldCount {
  readonly field: string;
  readonly n: string;
}

/** How many records have a value in each field, and how many one that can't be read, by key. */
export interface FieldCounts {
  readonly filled: ReadonlyMap<string, number>;
  readonly unreadable: ReadonlyMap<string, number>;
}

export async function readFieldCounts(manager: EntityManager): Promise<FieldCounts> {
  const known = await readFields(manager);
  const counted = 'SELECT v.field, COUNT(*) AS n FROM';
  const [filled, unreadable] = await Promise.all([
    manager.query<FieldCount[]>(`${counted} field_value v GROUP BY v.field`),
    unreadableValues<FieldCount>(manager, [...known.values()], `${counted} VALUES`, 'GROUP BY v.field'),
  ]);
  const byField = (counts: readonly FieldCount[]): ReadonlyMap<string, number> =>
    new Map(counts.map(({ field, n }) => [field, Number(n)]));
  return { filled: byField(filled), unreadable: byField(unreadable) };
}

/** How many leads came in by each way, in all and in the week before an instant. */
export async function readWays(manager: EntityManager, now: Date): Promise<IntakeState['ways']> {
  const week = new Date(now.getTime() - 7 * 86_400_000);
  const rows = await manager.query<{ way: string; leads: string; lastWeek: string }[]>(
    'SELECT way, COUNT(*) AS leads, SUM(arrived > ?) AS lastWeek FROM `lead` GROUP BY way',
    [week],
  );
  return rows.map(({ way, leads, lastWeek }) => ({ way, leads: Number(leads), lastWeek: Number(lastWeek) }));
}
