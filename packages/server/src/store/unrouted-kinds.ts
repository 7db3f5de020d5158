import { type RecordKind, type UnroutedKind, UNROUTED_KINDS } from '@relvik/core';
import { CompanyEntity } from './entity/company.entity';
import { ContactEntity } from './entity/contact.entity';
import { DealEntity } from './entity/deal.entity';
import { LeadEntity } from './entity/lead.entity';
import type { ScoredEntity } from './entity/scored.entity';
import type { UnroutedEntity } from './entity/unrouted.entity';

/** The entity of each kind that no route hands over. */
export const UNROUTED_ENTITIES: { readonly [K in UnroutedKind]: new () => UnroutedEntity } = {
  contact: ContactEntity,
  company: CompanyEntity,
  deal: DealEntity,
};

/** The entity of each kind. */
export const RECORD_ENTITIES: { readonly [K in RecordKind]: new () => ScoredEntity } = {
  ...UNROUTED_ENTITIES,
  lead: LeadEntity,
};

/** For each kind the records below it, whose activities count for it too: a table, and its column that says so. */
export const BELOW: { readonly [K in UnroutedKind]: readonly (readonly [table: string, column: string])[] } = {
  contact: [
    ['lead', 'contact'],
    ['deal', 'contact'],
  ],
  company: [
    ['lead', 'company_id'],
    ['deal', 'company'],
    ['contact', 'company'],
  ],
  deal: [],
};

export function isUnrouted(kind: string): kind is UnroutedKind {
  return UNROUTED_KINDS.some((one) => one === kind);
}
