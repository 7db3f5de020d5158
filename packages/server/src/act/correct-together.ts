import type { Correct } from '@relvik/contracts';
import { dayOf, readValue, type Value } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { UNREADABLE } from '../store/value-row';
import { edited } from './act';
import { act } from './acting';
import { handOf } from './cause';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

const BATCH = 200;

/**
 * Puts a value in the place of one that can't be judged, in every lead that has it; each is decided again.
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
    corrected += await act(source, hand.at, (acting) => correctSome(acting, ids, { field, raw, value }, hand));
  }
}

async function correctSome(
  acting: Acting,
  ids: readonly number[],
  { field: key, value: written }: Correct,
  hand: Hand,
): Promise<number> {
  const leads = await loadLeads(acting.manager, ids, 'write');
  const governing = await readGoverning(acting.manager, 'share');
  const field = governing.world.fields.get(key);
  if (field === undefined || field.retired) throw Refused.invalid([{ path: '/field', message: 'is no field' }]);
  const value = readValue(field, written, dayOf(hand.at.getTime(), governing.ready.charter.timeZone));
  if (value.kind === 'unreadable') throw Refused.invalid([{ path: '/value', message: value.why }]);
  if (value.kind === 'money' && governing.world.rates.toBase(value, governing.ready.charter.baseCurrency) === null)
    throw Refused.invalid([{ path: '/value', message: `has no rate for ${value.currency}` }]);
  const changed = new Map<string, Value>([[key, value]]);
  await perform(
    acting,
    leads.map((lead) => edited(lead, changed, 'edited', handOf(hand.user), hand.at)),
    governing,
  );
  return leads.length;
}
