import { kindOfField, type RecordKind, type TieKind } from '@relvik/core';
import { CompanyEntity } from '../store/entity/company.entity';
import { ContactEntity } from '../store/entity/contact.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import type { ScoredEntity } from '../store/entity/scored.entity';

/** Where activities that count for a record stand, as SQL; `a` is the activity. */
interface ActivitySource {
  readonly from: string;
  readonly of: string;
}

/** How the records of one kind are listed. In SQL the record is `r`. */
export interface ListKind {
  readonly kind: RecordKind;
  readonly entity: new () => ScoredEntity;
  /** The properties that lists read, beside the scores. */
  readonly columns: readonly string[];
  /** Whether it is open or closed, so that its indexes begin with that. */
  readonly hasStatus: boolean;
  /** The columns of its full-text index. */
  readonly words: readonly string[];
  /** The property by which an e-mail is found. */
  readonly email: string | null;
  /** The properties that hold what it is tied to. */
  readonly ties: Readonly<Partial<Record<TieKind | 'lead', string>>>;
  readonly activities: readonly ActivitySource[];
  /** Filters that narrow a list better than its order does, as endings of the names of indexes. */
  readonly narrowing: readonly string[];
}

const OWN: ActivitySource = { from: 'activity a', of: 'a.record = r.id' };
const below = (table: string, column: string): ActivitySource => ({
  from: `\`${table}\` below JOIN activity a ON a.record = below.id`,
  of: `below.${column} = r.id`,
});
const UNROUTED = ['id', 'name', 'owner', 'charter', 'arrived'] as const;

export const LIST_KINDS: { readonly [K in RecordKind]: ListKind & { readonly kind: K } } = {
  lead: {
    kind: 'lead',
    entity: LeadEntity,
    columns: [
      ...['id', 'name', 'company', 'status', 'charter', 'stage', 'pipeline', 'territory', 'arrived'],
      ...['place', 'owner', 'queue', 'bay', 'nobodyBecause', 'acceptance'],
    ],
    hasStatus: true,
    words: ['name', 'company'],
    email: 'email',
    ties: { contact: 'contact', company: 'companyId' },
    activities: [OWN],
    narrowing: [
      'set',
      'owner',
      'queue',
      'stage',
      'territory',
      'grade',
      'place',
      'words',
      'email',
      'contact',
      'company',
    ].map((by) => `lead_by_${by}`),
  },
  contact: {
    kind: 'contact',
    entity: ContactEntity,
    columns: [...UNROUTED, 'company', 'email'],
    hasStatus: false,
    words: ['name'],
    email: 'email',
    ties: { company: 'company' },
    activities: [OWN, below('lead', 'contact'), below('deal', 'contact')],
    narrowing: ['contact_by_owner', 'contact_by_company', 'contact_by_words', 'contact_one_per_email'],
  },
  company: {
    kind: 'company',
    entity: CompanyEntity,
    columns: UNROUTED,
    hasStatus: false,
    words: ['name'],
    email: null,
    ties: {},
    activities: [OWN, below('lead', 'company_id'), below('deal', 'company'), below('contact', 'company')],
    narrowing: ['company_by_owner', 'company_by_words'],
  },
  deal: {
    kind: 'deal',
    entity: DealEntity,
    columns: [...UNROUTED, 'contact', 'company', 'lead', 'status', 'stage'],
    hasStatus: true,
    words: ['name'],
    email: null,
    ties: { contact: 'contact', company: 'company', lead: 'lead' },
    activities: [OWN],
    narrowing: ['owner', 'stage', 'words', 'contact', 'company', 'lead'].map((by) => `deal_by_${by}`),
  },
};

/** In SQL the id of the record that has a field: the record itself, or what it is tied to. */
export function holderOf(field: string, { kind, ties }: ListKind): string {
  const of = kindOfField(field);
  if (of === kind || of === 'lead' || of === 'deal') return 'r.id';
  return `r.${ties[of] ?? 'id'}`;
}
