import type { FoundRecord } from '@relvik/contracts';
import { domainOf, fold, keyOfRole, RECORD_KINDS, type RecordKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { recordsInSight, type Sight } from '../session/sight';
import { readFields } from '../store/governing';
import { searchable } from '../store/value-row';
import { findIn } from './filter';
import { patternOf } from './like';
import { LIST_KINDS } from './list-kinds';
import { over } from './page';

/** Most results of each kind. */
const MOST = 12;

interface Row {
  readonly id: number;
  readonly name: string;
  readonly company?: string | number | null;
  readonly email?: string | null;
  readonly status?: string;
}

/** Records of all kinds in sight by name, e-mail, telephone or domain, of each kind the best ranked first. */
export async function findRecords(manager: EntityManager, sight: Sight, text: string): Promise<FoundRecord[]> {
  const ids = await otherwise(manager, text);
  const found: FoundRecord[] = [];
  for (const kind of RECORD_KINDS) {
    const list = LIST_KINDS[kind];
    const rows = new Map<number, Row>();
    const byWords = over(manager, list);
    findIn(byWords, list, text);
    const byId = ids.length === 0 ? null : over(manager, list).andWhere('r.id IN (:...found)', { found: ids });
    for (const query of byId === null ? [byWords] : [byId, byWords]) {
      const some = (await recordsInSight(query, kind, sight)
        .orderBy('r.rankOrder', 'DESC')
        .addOrderBy('r.id', 'DESC')
        .limit(MOST)
        .getMany()) as unknown as Row[];
      for (const row of some) rows.set(row.id, row);
    }
    found.push(...[...rows.values()].slice(0, MOST).map((row) => shown(kind, row)));
  }
  return found;
}

function shown(kind: RecordKind, { id, name, company, email, status }: Row): FoundRecord {
  const firm = typeof company === 'string' ? company : '';
  const closed = status === undefined || status === 'open' ? '' : status;
  return {
    kind,
    id,
    name: name || firm || (email ?? ''),
    beside: [name === '' ? '' : firm, kind === 'contact' && name !== '' ? (email ?? '') : '', closed]
      .filter(Boolean)
      .join(', '),
  };
}

/** The ids of records that a telephone number, another e-mail or a domain leads to. */
async function otherwise(manager: EntityManager, text: string): Promise<number[]> {
  const fields = await readFields(manager);
  const phones = (['lead', 'contact'] as const).flatMap((kind) => keyOfRole(fields, kind, 'phone') ?? []);
  const begins = patternOf('starts-with', searchable(fold(text)));
  const asked: [sql: string, values: unknown[]][] = [];
  if (/\d/.test(text) && phones.length > 0)
    asked.push([
      `SELECT record AS id FROM field_value WHERE field IN (?) AND folded LIKE ? LIMIT ${MOST}`,
      [phones, begins],
    ]);
  if (text.includes('.') || text.includes('@')) {
    const domain = fold(domainOf(text) ?? text.replace(/^@/, ''));
    if (domain !== '')
      asked.push([
        `SELECT company AS id FROM company_key WHERE kind = 'domain' AND folded LIKE ? LIMIT ${MOST}`,
        [patternOf('starts-with', domain)],
      ]);
    asked.push([`SELECT contact AS id FROM contact_alias WHERE folded LIKE ? LIMIT ${MOST}`, [begins]]);
  }
  const ids: number[] = [];
  for (const [sql, values] of asked)
    ids.push(...(await manager.query<{ id: number }[]>(sql, values)).map(({ id }) => id));
  return ids;
}
