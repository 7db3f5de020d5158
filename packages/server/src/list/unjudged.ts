import type { UnjudgedRow } from '@relvik/contracts';
import {
  type Catalogue,
  type Field,
  fieldsOf,
  keyOfRole,
  kindOfField,
  likelyMeaning,
  RECORD_KINDS,
  type RecordKind,
  spellingList,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type Governing, readGoverning } from '../store/governing';
import { unreadableValues } from '../store/unreadable-values';

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

/** The same of contacts, companies and deals, which wait in no bay. */
const COUNTED_OTHERS = `COUNT(*) AS leads, COUNT(*) AS open, 0 AS in_bay,
  SUBSTRING_INDEX(GROUP_CONCAT(v.record ORDER BY v.record DESC), ',', ${FEW}) AS ids`;

/** Values that are not what their field holds, and amounts by their currency where it has no rate. */
async function groupsOf(manager: EntityManager, { ready, world }: Governing): Promise<Group[]> {
  const { baseCurrency } = ready.charter;
  const rated = [baseCurrency, ...world.rates.periods(baseCurrency).map(({ currency }) => currency)];
  const found = async (fields: readonly Field[], counted: string, joined: string): Promise<Group[]> => {
    const money = fields.flatMap(({ key, type }) => (type === 'money' ? [key] : []));
    const [unreadable, unrated] = await Promise.all([
      unreadableValues<Group>(
        manager,
        fields,
        `SELECT v.field, MIN(v.shown) AS raw, MIN(v.why) AS why, NULL AS rate_from, ${counted} FROM VALUES ${joined}`,
        `GROUP BY v.field, BINARY v.shown ORDER BY in_bay DESC, leads DESC, v.field, raw LIMIT ${SHOWN}`,
      ),
      money.length === 0
        ? []
        : manager.query<Group[]>(
            `SELECT v.field, v.currency AS raw, CONCAT('has no rate for ', v.currency) AS why, MIN(v.day) AS rate_from, ${counted}
       FROM field_value v ${joined} WHERE v.field IN (?) AND v.currency NOT IN (?)
       GROUP BY v.field, v.currency ORDER BY v.field, v.currency LIMIT ${SHOWN}`,
            [money, rated],
          ),
    ]);
    return [...unreadable.sort((a, b) => Number(b.leads) - Number(a.leads)).slice(0, SHOWN), ...unrated];
  };
  const all = [...world.fields.values()];
  const [ofLeads, others] = await Promise.all([
    found(fieldsOf(world.fields, 'lead'), COUNTED, 'JOIN `lead` l ON l.id = v.record'),
    found(
      all.filter(({ key }) => kindOfField(key) !== 'lead'),
      COUNTED_OTHERS,
      '',
    ),
  ]);
  return [...ofLeads, ...others].sort((a, b) => Number(b.in_bay) - Number(a.in_bay));
}

/** Names of records by id. */
async function namesOf(manager: EntityManager, kind: RecordKind, ids: readonly number[]): Promise<Map<number, string>> {
  if (ids.length === 0) return new Map();
  const other = kind === 'lead' ? 'company' : kind === 'contact' ? 'email' : "''";
  const rows = await manager.query<{ id: number; name: string }[]>(
    `SELECT id, COALESCE(NULLIF(name, ''), ${other}, '') AS name FROM \`${kind}\` WHERE id IN (?)`,
    [ids],
  );
  return new Map(rows.map(({ id, name }) => [id, name]));
}

/** The country of the newest record of each group of regions, by the record's id: by it the likely region is found. */
async function countriesOf(
  manager: EntityManager,
  groups: readonly Group[],
  fields: Catalogue,
): Promise<ReadonlyMap<number, string>> {
  const newest = groups.flatMap(({ field, ids }) =>
    fields.get(field)?.type === 'region' ? [Number(ids.split(',', 1)[0])] : [],
  );
  const keys = RECORD_KINDS.flatMap((kind) => keyOfRole(fields, kind, 'country') ?? []);
  if (newest.length === 0 || keys.length === 0) return new Map();
  const rows = await manager.query<{ record: number; shown: string }[]>(
    "SELECT record, shown FROM field_value WHERE record IN (?) AND field IN (?) AND kind = 'text'",
    [newest, keys],
  );
  return new Map(rows.map(({ record, shown }) => [record, shown]));
}

/** What can't be judged, the most leads in the bay first. */
export async function unjudgedRows(manager: EntityManager): Promise<UnjudgedRow[]> {
  const governing = await readGoverning(manager, 'none');
  const { fields } = governing.world;
  const groups = await groupsOf(manager, governing);
  const countries = await countriesOf(manager, groups, fields);
  const names = new Map<number, string>();
  for (const kind of RECORD_KINDS) {
    const ids = groups.flatMap(({ field, ids: some }) =>
      kindOfField(field) === kind ? some.split(',').map(Number) : [],
    );
    for (const [id, name] of await namesOf(manager, kind, ids)) names.set(id, name);
  }
  return groups.map(({ field, raw, why, rate_from, leads, open, in_bay, ids: some }) => {
    const kind = kindOfField(field);
    const of = fields.get(field);
    const country = countries.get(Number(some.split(',', 1)[0])) ?? null;
    return {
      ...{ field, kind, raw, why },
      likely: of === undefined || rate_from !== null ? null : likelyMeaning(of, raw, country),
      country,
      listed: of !== undefined && spellingList(of, '') !== null,
      rateFrom: rate_from,
      leads: Number(leads),
      open: Number(open),
      inBay: Number(in_bay),
      some: some.split(',').map((id) => ({ id: Number(id), name: names.get(Number(id)) || `${kind} ${id}` })),
    };
  });
}
