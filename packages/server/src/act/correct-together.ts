import type { Correct } from '@relvik/contracts';
import { dayOf, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import type { Governing } from '../store/governing';
import { UNREADABLE } from '../store/value-row';
import { BATCH, changeTogether, type FieldChange, readFor } from './change-together';
import type { Hand } from './hand';

/** The next records, by id, that have a value that can't be read. */
export async function withUnreadable(
  manager: EntityManager,
  field: string,
  raw: string,
  after: number,
): Promise<number[]> {
  const rows = await manager.query<{ record: number }[]>(
    `SELECT record FROM field_value WHERE field = ? AND ${UNREADABLE} AND BINARY shown = ? AND record > ?
     ORDER BY record LIMIT ${BATCH}`,
    [field, raw, after],
  );
  return rows.map(({ record }) => record);
}

/**
 * Changes a field of every record in which it holds what can't be read.
 *
 * @returns in how many
 */
export async function changeUnreadable(
  source: DataSource,
  change: FieldChange,
  raw: string,
  hand: Hand,
): Promise<number> {
  let changed = 0;
  for (let after = 0; ;) {
    const ids = await withUnreadable(source.manager, change.field, raw, after);
    const last = ids.at(-1);
    if (last === undefined) return changed;
    after = last;
    changed += await changeTogether(source, change, ids, hand);
  }
}

/**
 * Puts a value in the place of one that can't be judged, in every record that has it; each lead is decided again. Where it can't be
 * read by the country of a record either, that stays as it is.
 *
 * @returns in how many
 */
export function correctTogether(source: DataSource, { field, raw, value }: Correct, hand: Hand): Promise<number> {
  const valueFor: FieldChange['valueFor'] = (governing, values) => rightValue(governing, field, value, values, hand);
  return changeUnreadable(source, { field, valueFor }, raw, hand);
}

function rightValue(
  governing: Governing,
  key: string,
  written: string,
  values: ReadonlyMap<string, Value>,
  hand: Hand,
): Value | null {
  const { world, ready } = governing;
  const field = world.fields.get(key);
  if (field === undefined || field.retired) throw Refused.invalid([{ path: '/field', message: 'is no field' }]);
  const day = dayOf(hand.at.getTime(), ready.charter.timeZone);
  const value = readFor(field, written, governing, values, day);
  if (value.kind === 'unreadable') {
    if (readFor(field, written, governing, new Map(), day).kind !== 'unreadable') return null;
    throw Refused.invalid([{ path: '/value', message: value.why }]);
  }
  if (value.kind === 'money' && world.rates.toBase(value, ready.charter.baseCurrency) === null)
    throw Refused.invalid([{ path: '/value', message: `has no rate for ${value.currency}` }]);
  return value;
}
