import type { NextLeads, RecordDocument } from '@relvik/contracts';
import { fold, readAcrossTies } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { LeadEntity } from '../store/entity/lead.entity';
import { readFields } from '../store/governing';
import { loadLeads, type StoredLead, withTiedValues } from '../store/load-leads';

/** How many leads are tried. */
const MOST = 10;
/** How many of the newest leads are looked through for those that routes placed. */
const LOOKED_THROUGH = 5000;

/** A lead with all by which it is decided. */
export function documentOf({ entity, record }: StoredLead): RecordDocument {
  const { arrived, way, values, activities, standing, tied = [] } = record;
  return { id: entity.id, arrived, way, pin: standing.pin, values: [...values], tied: [...tied], activities };
}

/**
 * Leads to try routes with: the last that routes placed, oldest first; or those that are written.
 *
 * @param written ids and e-mails; null: the last
 */
export async function nextLeads(manager: EntityManager, written: readonly string[] | null): Promise<NextLeads> {
  const { ids, unknown } = written === null ? await lastRouted(manager) : await found(manager, written);
  const fields = readAcrossTies((await readFields(manager)).keys(), 'lead');
  const stored = await withTiedValues(manager, await loadLeads(manager, ids, 'none'), fields);
  const byId = new Map(stored.map((one) => [one.entity.id, one]));
  return {
    leads: ids.flatMap((id) => {
      const one = byId.get(id);
      if (one === undefined) return [];
      const { name, company } = one.entity;
      return [{ name, company, record: documentOf(one) }];
    }),
    unknown,
  };
}

async function lastRouted(manager: EntityManager): Promise<{ ids: number[]; unknown: string[] }> {
  const rows = await manager.query<{ id: number }[]>(
    `SELECT id FROM (SELECT id, route, test FROM \`lead\` WHERE status = 'open' ORDER BY arrived DESC, id DESC LIMIT ${LOOKED_THROUGH}) newest
     WHERE route IS NOT NULL AND test = 0 LIMIT ${MOST}`,
  );
  return { ids: rows.map(({ id }) => id).reverse(), unknown: [] };
}

async function found(
  manager: EntityManager,
  written: readonly string[],
): Promise<{ ids: number[]; unknown: string[] }> {
  const emails = written.filter((one) => one.includes('@')).map(fold);
  const numbers = written.filter((one) => /^\d{1,9}$/.test(one)).map(Number);
  const leads = await manager.find(LeadEntity, {
    select: { id: true, email: true },
    where: [{ id: In(numbers) }, { email: In(emails) }],
    order: { id: 'DESC' },
  });
  const ids: number[] = [];
  const unknown: string[] = [];
  for (const one of written) {
    // Of several with one e-mail the newest.
    const lead = leads.find(({ id, email }) => String(id) === one || (one.includes('@') && email === fold(one)));
    if (lead === undefined) unknown.push(one);
    else if (!ids.includes(lead.id)) ids.push(lead.id);
  }
  return { ids, unknown };
}
