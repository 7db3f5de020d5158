import { type Catalogue, fold, keyOfRole } from '@relvik/core';
import freeMailDomains from 'free-email-domains';
import type { EntityManager } from 'typeorm';
import { NoCompanyEntity } from './entity/company.entity';

/** The rules by which contact and company of a lead are found: keys of fields, and words that name no company. */
export interface TieRules {
  readonly name: string | null;
  readonly email: string | null;
  readonly company: string | null;
  readonly country: string | null;
  /** Folded words that are written where a company is asked for, and name none. */
  readonly noNames: ReadonlySet<string>;
  /** Whether a domain gives mailboxes to anyone. */
  isFree(domain: string): boolean;
}

const FREE: ReadonlySet<string> = new Set(freeMailDomains);

export async function readTieRules(manager: EntityManager, fields: Catalogue): Promise<TieRules> {
  const words = await manager.find(NoCompanyEntity);
  const named = (kind: NoCompanyEntity['kind']): ReadonlySet<string> =>
    new Set(words.flatMap((one) => (one.kind === kind ? [fold(one.folded)] : [])));
  const domains = named('domain');
  return {
    name: keyOfRole(fields, 'lead', 'name'),
    email: keyOfRole(fields, 'lead', 'email'),
    company: keyOfRole(fields, 'lead', 'company'),
    country: keyOfRole(fields, 'lead', 'country'),
    noNames: named('name'),
    isFree: (domain) => FREE.has(domain) || domains.has(domain),
  };
}
