import type { Correct } from '@relvik/contracts';
import { dayOf, kindOfField, readValue, type UnroutedKind, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { type Governing, readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { loadUnrouted } from '../store/load-unrouted';
import { inTransaction } from '../store/transaction';
import { UNREADABLE } from '../store/value-row';
import { edited } from './act';
import { act } from './acting';
import { handOf } from './cause';
import { writeChanged } from './change-record';
import { handSource } from './change-source';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

const BATCH = 200;

/**
 * Puts a value in the place of one that can't be judged, in every record that has it; each lead is decided again.
 *
 * @returns in how many
 */
export async function correctTogether(source: DataSource, { field, raw, value }: Correct, hand: Hand): Promise<number> {
  let corrected = 0;
  for (let after = 0; ;) {
    const ids = (
      await source.query<{ record: number }[]>(
        `SELECT record FROM field_value WHERE field = ? AND ${UNREADABLE} AND BINARY shown = ? AND record > ?
         ORDER BY record LIMIT ${BATCH}`,
        [field, raw, after],
      )
    ).map(({ record }) => record);
    const last = ids.at(-1);
    if (last === undefined) return corrected;
    after = last;
    const kind = kindOfField(field);
    corrected +=
      kind === 'lead'
        ? await act(source, hand.at, (acting) => correctLeads(acting, ids, { field, raw, value }, hand))
        : await inTransaction(source, (manager) => correctOthers(manager, kind, ids, { field, raw, value }, hand));
  }
}

/** The value in the place of the one that can't be judged. */
function rightValue(
  { world, ready }: Governing,
  { field: key, value: written }: Correct,
  hand: Hand,
): Map<string, Value> {
  const field = world.fields.get(key);
  if (field === undefined || field.retired) throw Refused.invalid([{ path: '/field', message: 'is no field' }]);
  const value = readValue(field, written, dayOf(hand.at.getTime(), ready.charter.timeZone));
  if (value.kind === 'unreadable') throw Refused.invalid([{ path: '/value', message: value.why }]);
  if (value.kind === 'money' && world.rates.toBase(value, ready.charter.baseCurrency) === null)
    throw Refused.invalid([{ path: '/value', message: `has no rate for ${value.currency}` }]);
  return new Map([[key, value]]);
}

async function correctOthers(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
  correct: Correct,
  hand: Hand,
): Promise<number> {
  const governing = await readGoverning(manager, 'share');
  const changed = rightValue(governing, correct, hand);
  const records = await loadUnrouted(manager, kind, ids, governing.ready, 'write');
  for (const stored of records) await writeChanged(manager, stored, changed, governing, handSource(hand));
  return records.length;
}

async function correctLeads(acting: Acting, ids: readonly number[], correct: Correct, hand: Hand): Promise<number> {
  const leads = await loadLeads(acting.manager, ids, 'write');
  const governing = await readGoverning(acting.manager, 'share');
  const changed = rightValue(governing, correct, hand);
  await perform(
    acting,
    leads.map((lead) => edited(lead, changed, 'edited', handOf(hand.user), hand.at)),
    governing,
  );
  return leads.length;
}
