import { type Catalogue, kindOfField, type Origin, type Saying, type TieKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type KeptValue, valueOf } from './value-row';

/** For each kind of tie, which field of leads feeds which of its own. */
export function feedsOf(catalogue: Catalogue, kind: TieKind): ReadonlyMap<string, string> {
  return new Map(
    [...catalogue.values()].flatMap(({ key, feeds, retired }): [string, string][] =>
      feeds != null && !retired && kindOfField(feeds) === kind ? [[key, feeds]] : [],
    ),
  );
}

type SaidRow = KeptValue & {
  readonly party: number;
  readonly lead: number;
  readonly field: string;
  readonly origin: Origin;
  readonly at: Date;
};

/** The value that a lead has for one field of its contact or company. */
export interface LeadSaying extends Saying {
  readonly lead: number;
}

/**
 * The values that leads have for fields of their contacts or companies, by contact or company and field.
 *
 * @param only the leads that count; missing: all
 */
export async function sayingsOf(
  manager: EntityManager,
  catalogue: Catalogue,
  kind: TieKind,
  parties: readonly number[],
  only: ReadonlySet<number> | null = null,
): Promise<ReadonlyMap<number, ReadonlyMap<string, readonly LeadSaying[]>>> {
  const feeds = feedsOf(catalogue, kind);
  if (feeds.size === 0 || parties.length === 0) return new Map();
  const column = kind === 'contact' ? 'contact' : 'company_id';
  const rows = await manager.query<SaidRow[]>(
    `SELECT l.${column} AS party, l.id AS lead, v.field, v.kind, v.shown, v.number, v.currency, v.day, v.why, v.origin,
       COALESCE(v.set_at, l.arrived) AS at
     FROM \`lead\` l JOIN field_value v ON v.record = l.id AND v.field IN (?) WHERE l.${column} IN (?) AND l.test = 0 ORDER BY l.id`,
    [[...feeds.keys()], parties],
  );
  const said = new Map<number, Map<string, LeadSaying[]>>();
  for (const row of rows) {
    if (only !== null && !only.has(row.lead)) continue;
    const field = feeds.get(row.field) ?? '';
    const own = said.get(row.party) ?? new Map<string, LeadSaying[]>();
    said.set(row.party, own);
    const list = own.get(field) ?? [];
    own.set(field, list);
    list.push({ value: valueOf(row), at: row.at.getTime(), origin: row.origin, lead: row.lead });
  }
  return said;
}
