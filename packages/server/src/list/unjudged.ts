import type { Correct, NewRate, UnjudgedRow } from '@relvik/contracts';
import { dayOf, parseScaled, readValue, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { type Case, decideLeads } from '../act/decide-leads';
import { freeBay } from '../act/free-bay';
import type { Hand } from '../act/work-on-lead';
import { RateEntity } from '../store/entity/catalogue.entity';
import { loadLeads } from '../store/load-leads';

const FEW = 4;
const BATCH = 200;
const SHOWN = 500;

interface Group {
  readonly field: string;
  readonly raw: string;
  readonly why: string;
  readonly rate_from: string | null;
  readonly leads: string | number;
  readonly open: string | number;
  readonly in_bay: string | number;
  readonly ids: string;
}

const COUNTED = `COUNT(*) AS leads, SUM(l.status = 'open') AS open, SUM(l.place = 'bay') AS in_bay,
  SUBSTRING_INDEX(GROUP_CONCAT(v.record ORDER BY v.record DESC), ',', ${FEW}) AS ids`;

/** Values that are not what their field holds, and amounts by their currency where it has no rate. */
async function groupsOf(manager: EntityManager): Promise<Group[]> {
  const { ready, world } = await readGoverning(manager, 'none');
  const rated = [ready.charter.baseCurrency, ...world.rates.periods().map(({ currency }) => currency)];
  // By field, since that is how the index begins.
  const fields = [...world.fields.keys()];
  const [unreadable, unrated] = await Promise.all([
    manager.query<Group[]>(
      `SELECT v.field, v.shown AS raw, MIN(v.why) AS why, NULL AS rate_from, ${COUNTED}
       FROM field_value v JOIN \`lead\` l ON l.id = v.record WHERE v.field IN (?) AND v.kind = 'unreadable'
       GROUP BY v.field, v.shown ORDER BY in_bay DESC, leads DESC, v.field, v.shown LIMIT ${SHOWN}`,
      [fields],
    ),
    manager.query<Group[]>(
      `SELECT v.field, v.currency AS raw, CONCAT('has no rate for ', v.currency) AS why, MIN(v.day) AS rate_from, ${COUNTED}
       FROM field_value v JOIN \`lead\` l ON l.id = v.record WHERE v.field IN (?) AND v.kind = 'money' AND v.currency NOT IN (?)
       GROUP BY v.field, v.currency ORDER BY v.field, v.currency LIMIT ${SHOWN}`,
      [fields, rated],
    ),
  ]);
  return [...unreadable, ...unrated].sort((a, b) => Number(b.in_bay) - Number(a.in_bay));
}

/** What can't be judged, the most leads in the bay first. */
export async function unjudgedRows(manager: EntityManager): Promise<UnjudgedRow[]> {
  const groups = await groupsOf(manager);
  const ids = groups.flatMap((group) => group.ids.split(',').map(Number));
  const named = new Map(
    (ids.length === 0
      ? []
      : await manager.query<{ id: number; name: string; company: string }[]>(
          'SELECT id, name, company FROM `lead` WHERE id IN (?)',
          [ids],
        )
    ).map(({ id, name, company }) => [id, name || company || `Lead ${id}`]),
  );
  return groups.map(({ field, raw, why, rate_from, leads, open, in_bay, ids: some }) => ({
    field,
    raw,
    why,
    rateFrom: rate_from,
    leads: Number(leads),
    open: Number(open),
    inBay: Number(in_bay),
    some: some.split(',').map((id) => ({ id: Number(id), name: named.get(Number(id)) ?? `Lead ${id}` })),
  }));
}

/** Keeps a rate; who waited for it leaves the bay. */
export async function giveRate(source: DataSource, { currency, from, rate }: NewRate, now: Date): Promise<number> {
  const micro = parseScaled(rate, 6);
  if (!micro.ok) throw Refused.invalid([{ path: '/rate', message: micro.why }]);
  await source.manager.upsert(RateEntity, { currency, fromDay: from, micro: String(micro.scaled) }, [
    'currency',
    'fromDay',
  ]);
  return freeBay(source, now, 'all');
}

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
        `SELECT record FROM field_value WHERE field = ? AND kind = 'unreadable' AND BINARY shown = ? AND record > ?
         ORDER BY record LIMIT ${BATCH}`,
        [field, raw, after],
      )
    ).map(({ record }) => record);
    const last = ids.at(-1);
    if (last === undefined) return corrected;
    after = last;
    corrected += await inTransaction(source, (manager) => correctSome(manager, ids, { field, raw, value }, hand));
  }
}

async function correctSome(
  manager: EntityManager,
  ids: readonly number[],
  { field: key, value: written }: Correct,
  hand: Hand,
): Promise<number> {
  const leads = await loadLeads(manager, ids, 'write');
  const governing = await readGoverning(manager, 'share');
  const field = governing.world.fields.get(key);
  if (field === undefined || field.retired) throw Refused.invalid([{ path: '/field', message: 'is no field' }]);
  const value = readValue(field, written, dayOf(hand.at.getTime(), governing.ready.charter.timeZone));
  if (value.kind === 'unreadable') throw Refused.invalid([{ path: '/value', message: value.why }]);
  if (value.kind === 'money' && governing.world.rates.toBase(value, governing.ready.charter.baseCurrency) === null)
    throw Refused.invalid([{ path: '/value', message: `has no rate for ${value.currency}` }]);
  const cases = leads.map(({ entity, record }): Case => {
    const values = new Map<string, Value>([[key, value]]);
    return {
      record: { ...record, values: new Map([...record.values, ...values]) },
      stored: entity,
      arrival: null,
      occasion: 'edited',
      asOf: hand.at,
      by: hand.name,
      values,
      valuesBefore: record.values,
    };
  });
  await decideLeads(manager, cases, governing);
  return cases.length;
}
