import { type AnyRecord, companyRecord, type RecordFacts } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { loadLeads, type StoredLead } from './load-leads';
import type { CompanyEntity } from './entity/company.entity';

/** Companies as score sets read them, by id: put together from their leads. One without leads any more is left out. */
export async function loadCompanies(
  manager: EntityManager,
  companies: readonly Pick<CompanyEntity, 'id' | 'folded'>[],
): Promise<ReadonlyMap<number, AnyRecord>> {
  if (companies.length === 0) return new Map();
  const rows = await manager.query<{ id: number; key: string }[]>(
    'SELECT id, company_key AS `key` FROM `lead` WHERE company_key IN (?)',
    [companies.map(({ folded }) => folded)],
  );
  const keyOf = new Map(rows.map(({ id, key }) => [id, key]));
  const leads = await loadLeads(manager, [...keyOf.keys()], 'none');
  const byKey = new Map<string, RecordFacts[]>();
  for (const { entity, record } of leads) {
    const key = keyOf.get(entity.id) ?? '';
    const own = byKey.get(key);
    if (own === undefined) byKey.set(key, [record]);
    else own.push(record);
  }
  return new Map(
    companies.flatMap(({ id, folded }): [number, AnyRecord][] => {
      const own = byKey.get(folded);
      return own === undefined ? [] : [[id, companyRecord(String(id), own)]];
    }),
  );
}

/** All leads of one company, in order of their ids. */
export async function leadsOfCompany(
  manager: EntityManager,
  { folded }: Pick<CompanyEntity, 'folded'>,
): Promise<StoredLead[]> {
  const rows = await manager.query<{ id: number }[]>('SELECT id FROM `lead` WHERE company_key = ?', [folded]);
  return loadLeads(
    manager,
    rows.map(({ id }) => id),
    'none',
  );
}
