import type { UnjudgedRow } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import { readGoverning } from '../store/governing';
import { unreadableValues } from './unreadable-values';

const FEW = 4;
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
  const { baseCurrency } = ready.charter;
  const rated = [baseCurrency, ...world.rates.periods(baseCurrency).map(({ currency }) => currency)];
  const money = [...world.fields.values()].flatMap(({ key, type }) => (type === 'money' ? [key] : []));
  const [found, unrated] = await Promise.all([
    unreadableValues<Group>(
      manager,
      world.fields,
      `SELECT v.field, v.shown AS raw, MIN(v.why) AS why, NULL AS rate_from, ${COUNTED} FROM VALUES JOIN \`lead\` l ON l.id = v.record`,
      `GROUP BY v.field, v.shown ORDER BY in_bay DESC, leads DESC, v.field, v.shown LIMIT ${SHOWN}`,
    ),
    money.length === 0
      ? []
      : manager.query<Group[]>(
          `SELECT v.field, v.currency AS raw, CONCAT('has no rate for ', v.currency) AS why, MIN(v.day) AS rate_from, ${COUNTED}
       FROM field_value v JOIN \`lead\` l ON l.id = v.record WHERE v.field IN (?) AND v.currency NOT IN (?)
       GROUP BY v.field, v.currency ORDER BY v.field, v.currency LIMIT ${SHOWN}`,
          [money, rated],
        ),
  ]);
  const unreadable = found.sort((a, b) => Number(b.leads) - Number(a.leads)).slice(0, SHOWN);
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
