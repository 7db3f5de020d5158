import type { EntityManager } from 'typeorm';
import type { CompanyKeyEntity } from './entity/company.entity';

/** A company with all that it is known by. */
export interface CompanyParty {
  id: number;
  readonly names: Set<string>;
  readonly domains: Set<string>;
  readonly country: string | null;
}

/** The ids of contacts by their e-mails, folded; their other addresses count too. */
export async function contactsBy(manager: EntityManager, emails: readonly string[]): Promise<Map<string, number>> {
  if (emails.length === 0) return new Map();
  const rows = await manager.query<{ id: number; folded: string }[]>(
    'SELECT id, email AS folded FROM contact WHERE email IN (?) UNION ALL SELECT contact, folded FROM contact_alias WHERE folded IN (?)',
    [emails, emails],
  );
  return new Map(rows.map(({ id, folded }) => [folded, id]));
}

/** Contacts that have open leads, by their e-mails, folded, and the ids of these leads; their other addresses count too. */
export async function openContacts(
  manager: EntityManager,
  emails: readonly string[],
): Promise<{ readonly byEmail: ReadonlyMap<string, number>; readonly leads: readonly number[] }> {
  if (emails.length === 0) return { byEmail: new Map(), leads: [] };
  const rows = await manager.query<{ id: number; folded: string; lead: number }[]>(
    `SELECT c.id, c.email AS folded, l.id AS \`lead\` FROM contact c STRAIGHT_JOIN \`lead\` l ON l.open_for = c.id WHERE c.email IN (?)
     UNION ALL SELECT a.contact, a.folded, l.id FROM contact_alias a STRAIGHT_JOIN \`lead\` l ON l.open_for = a.contact WHERE a.folded IN (?)`,
    [emails, emails],
  );
  return {
    byEmail: new Map(rows.map(({ id, folded }) => [folded, id])),
    leads: [...new Set(rows.map(({ lead }) => lead))],
  };
}

/** The companies that have one of these names or domains, the oldest first, with all that they are known by. */
export async function companiesBy(
  manager: EntityManager,
  names: readonly string[],
  domains: readonly string[],
): Promise<CompanyParty[]> {
  const asked = [
    ...(names.length === 0 ? [] : ["(k.kind = 'name' AND k.folded IN (?))"]),
    ...(domains.length === 0 ? [] : ["(k.kind = 'domain' AND k.folded IN (?))"]),
  ];
  if (asked.length === 0) return [];
  const rows = await manager.query<(CompanyKeyEntity & { country: string | null })[]>(
    `SELECT own.kind, own.folded, own.company, c.country FROM company_key own JOIN company c ON c.id = own.company
     WHERE own.company IN (SELECT k.company FROM company_key k WHERE ${asked.join(' OR ')}) ORDER BY own.company`,
    [names, domains].filter((list) => list.length > 0),
  );
  const byId = new Map<number, CompanyParty>();
  for (const { kind, folded, company: id, country } of rows) {
    const party = byId.get(id) ?? { id, names: new Set(), domains: new Set(), country };
    byId.set(id, party);
    (kind === 'name' ? party.names : party.domains).add(folded);
  }
  return [...byId.values()];
}
