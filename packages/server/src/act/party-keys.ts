import {
  type CompanyClue,
  CompanyIndex,
  domainOf,
  findCompany,
  type FoundCompany,
  fold,
  keyOfRole,
  type UnroutedKind,
  type Value,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import type { CompanyEntity } from '../store/entity/company.entity';
import { companiesBy, type CompanyParty, contactsBy } from '../store/find-parties';
import type { Governing } from '../store/governing';
import { foldedName } from '../store/identity';

/** The identity of a contact or company by its values. */
export interface PartyKeys {
  readonly email: string | null;
  readonly clue: CompanyClue;
}

export function partyKeys(kind: UnroutedKind, values: ReadonlyMap<string, Value>, { world }: Governing): PartyKeys {
  const textIn = (role: 'name' | 'email' | 'domain' | 'country'): string | null => {
    const key = keyOfRole(world.fields, kind, role);
    const value = key === null ? undefined : values.get(key);
    return value?.kind === 'text' ? value.text : null;
  };
  const domain = textIn('domain');
  const country = textIn('country');
  return {
    email: kind === 'contact' ? fold(textIn('email') ?? '').slice(0, 320) || null : null,
    clue: {
      name: foldedName(textIn('name') ?? '') || null,
      domain: domain === null ? null : foldedName(domainOf(domain) ?? domain),
      country: country?.length === 2 ? country.toUpperCase() : null,
    },
  };
}

/**
 * Looks a company up by its name, then by its domain.
 *
 * @param except the id of one that is passed over; null: none
 */
export async function lookUpCompany(
  manager: EntityManager,
  clue: CompanyClue,
  except: number | null = null,
): Promise<FoundCompany<CompanyParty>> {
  const some = (text: string | null): string[] => (text === null ? [] : [text]);
  const known = await companiesBy(manager, some(clue.name), some(clue.domain));
  return findCompany(clue, new CompanyIndex(known.filter(({ id }) => id !== except)));
}

/**
 * Whether another contact or company has what one is known by.
 *
 * @param own its id; null: it is to be made
 * @returns the one of its name that differs in domain or country, which may be the same: null: none
 * @throws Refused `known-already` for another that is the same
 */
export async function refuseKnown(
  manager: EntityManager,
  kind: UnroutedKind,
  { email, clue }: PartyKeys,
  own: number | null,
): Promise<number | null> {
  if (kind === 'contact' && email !== null) {
    const known = (await contactsBy(manager, [email])).get(email);
    if (known !== undefined && known !== own)
      throw Refused.as('known-already', { detail: `Contact ${known} has ${email}.`, other: known });
  }
  if (kind !== 'company' || clue.name === null) return null;
  const found = await lookUpCompany(manager, clue, own);
  if (found.kind === 'known')
    throw Refused.as('known-already', {
      detail: `Company ${found.company.id} is known by this name or domain.`,
      other: found.company.id,
    });
  return found.kind === 'new' ? (found.alike?.id ?? null) : null;
}

/** Keeps what a company is known by. What it was known by before stays, so that its leads are found as before. */
export async function keepCompanyKeys(
  manager: EntityManager,
  { id }: Pick<CompanyEntity, 'id'>,
  { name, domain }: CompanyClue,
): Promise<void> {
  const rows = [...(name === null ? [] : [['name', name, id]]), ...(domain === null ? [] : [['domain', domain, id]])];
  if (rows.length > 0) await manager.query('INSERT IGNORE INTO company_key (kind, folded, company) VALUES ?', [rows]);
}
