import { type CompanyClue, domainOf, fold, keyOfRole, type TieKind, type Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { contactsBy } from '../store/find-parties';
import type { Governing } from '../store/governing';
import { foldedName } from '../store/identity';
import type { IncomingRecord } from './incoming-record';
import { type Given, insertRecord } from './insert-record';
import { lookUpCompany, partyKeys } from './party-keys';

export const NO_TIES: Given = { contact: null, company: null, lead: null };

/** The clue that a name, or the e-mail of someone who works there, gives; words that name no company and free mailboxes give none. */
export function companyClue(name: string, email: string | null, { ties }: Governing): CompanyClue {
  const folded = foldedName(name);
  const domain = email === null ? null : domainOf(email);
  return {
    name: folded === '' || ties.noNames.has(folded) ? null : folded,
    domain: domain === null || ties.isFree(domain) ? null : domain,
    country: null,
  };
}

/** The id of the company with a name, else with the domain of an e-mail; a name that is not known yet creates one. */
export async function findOrCreateCompany(
  manager: EntityManager,
  incoming: IncomingRecord,
  email: string | null,
  governing: Governing,
): Promise<number | null> {
  const found = await lookUpCompany(manager, companyClue(incoming.company, email, governing));
  switch (found.kind) {
    case 'known':
      return found.company.id;
    case 'none':
      return null;
    case 'new':
      return createParty(manager, 'company', 'name', incoming.company, found.alike?.id ?? null, incoming, governing);
  }
}

/** The id of the contact with an e-mail, which is created if it is not known yet. */
export async function findOrCreateContact(
  manager: EntityManager,
  incoming: IncomingRecord,
  governing: Governing,
): Promise<number | null> {
  const email = fold(incoming.contact);
  if (email === '') return null;
  const known = (await contactsBy(manager, [email])).get(email);
  return known ?? createParty(manager, 'contact', 'email', incoming.contact, null, incoming, governing);
}

/** Creates a company or contact of which only the name or the e-mail is known. */
function createParty(
  manager: EntityManager,
  kind: TieKind,
  role: 'name' | 'email',
  written: string,
  alike: number | null,
  { cause, at }: IncomingRecord,
  governing: Governing,
): Promise<number> {
  const text = written.trim();
  const key = keyOfRole(governing.world.fields, kind, role);
  const values = new Map<string, Value>(key === null ? [] : [[key, { kind: 'text', text, folded: fold(text) }]]);
  const keys = partyKeys(kind, values, governing);
  const name = role === 'name' ? text : '';
  const fresh = { name, owner: null, values, given: NO_TIES, keys, stage: null, alike };
  return insertRecord(manager, kind, fresh, governing, { cause, at, origin: 'trusted' });
}
