import { COMPANY_OWNER, companyOwnerValue, kindOfField, type TieKind, TIE_KINDS, type Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type KeptValue, valueOf } from './value-row';

/** The contact and the company that a record is tied to, by id. */
export type Ties = Readonly<Record<TieKind, number | null>>;

export const NO_TIES: Ties = { contact: null, company: null };

type ValueRow = KeptValue & { readonly record: number; readonly field: string };

/**
 * Values of contacts and companies in some fields.
 *
 * @param fields keys of fields of contacts and companies, and `COMPANY_OWNER` for the owners of companies
 * @param all the ties of the records concerned
 * @returns for the ties of one record what it reads across them, by key
 */
export async function tiedValues(
  manager: EntityManager,
  fields: readonly string[],
  all: readonly Ties[],
): Promise<(ties: Ties) => ReadonlyMap<string, Value>> {
  const kinds = TIE_KINDS.filter((kind) => fields.some((key) => kindOfField(key) === kind));
  const ids = [...new Set(all.flatMap((ties) => kinds.flatMap((kind) => ties[kind] ?? [])))];
  const rows =
    ids.length === 0
      ? []
      : await manager.query<ValueRow[]>(
          'SELECT record, field, kind, shown, number, currency, day, why FROM field_value WHERE record IN (?) AND field IN (?)',
          [ids, fields],
        );
  const byRecord = new Map<number, Map<string, Value>>();
  for (const row of rows) {
    const own = byRecord.get(row.record) ?? new Map<string, Value>();
    byRecord.set(row.record, own);
    own.set(row.field, valueOf(row));
  }
  if (fields.includes(COMPANY_OWNER)) await putOwners(manager, byRecord, all);
  return (ties) => new Map(kinds.flatMap((kind) => [...(byRecord.get(ties[kind] ?? 0) ?? [])]));
}

/** Puts the owners of companies beside their values. */
async function putOwners(
  manager: EntityManager,
  byRecord: Map<number, Map<string, Value>>,
  all: readonly Ties[],
): Promise<void> {
  const ids = [...new Set(all.flatMap(({ company }) => company ?? []))];
  if (ids.length === 0) return;
  const owned = await manager.query<{ id: number; owner: string }[]>(
    'SELECT id, owner FROM company WHERE id IN (?) AND owner IS NOT NULL',
    [ids],
  );
  for (const { id, owner } of owned) {
    const own = byRecord.get(id) ?? new Map<string, Value>();
    byRecord.set(id, own.set(COMPANY_OWNER, companyOwnerValue(owner)));
  }
}
