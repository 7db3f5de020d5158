import {
  type Answer,
  CLOSINGS,
  type Instant,
  type Place,
  RECORD_KINDS,
  type RecordKind,
  type Status,
} from '@relvik/core';
import { boolean, type InferType, mixed, number, object, string } from 'yup';
import { keyText, trimmed } from './text';

const words = string().max(120);
export const LIST_ORDERS = ['rank', 'fit', 'engagement', 'newest', 'oldest'] as const;
export type ListOrder = (typeof LIST_ORDERS)[number];

/** What a list shows of each lead beside its name. */
export const LEAD_COLUMNS = [
  'company',
  'grade',
  'rank',
  'fit',
  'engagement',
  'stage',
  'territory',
  'place',
  'arrived',
] as const;
/** Further columns, which nobody sees who did not choose them: its pipeline, the gates that ask a person, what it waits for, and its next task. */
export const MORE_LEAD_COLUMNS = ['pipeline', 'asks', 'waits', 'task'] as const;
export type LeadColumn = (typeof LEAD_COLUMNS)[number] | (typeof MORE_LEAD_COLUMNS)[number];

/** Whether a column is the list's own: neither of a field nor of a score set. */
export function isLeadColumn(key: string): key is LeadColumn {
  return [...LEAD_COLUMNS, ...MORE_LEAD_COLUMNS].some((column) => column === key);
}

/** Filters and order of a list of any kind of record. */
const LIST_FILTERS = {
  owner: keyText(),
  verdict: keyText(),
  /** A fit band by its key; `none` for no grade. */
  fit: keyText(),
  /** An engagement band by its key. */
  engagement: keyText(),
  /** Owned by members of a team. */
  team: keyText(),
  /** The score set whose scores rank the list, which holds whom it scores; none: the set that grades each record. */
  set: keyText(),
  /** The score set that grades it. */
  gradedBy: keyText(),
  /** A rank of at least so much. */
  least: number().min(-1_000_000).max(1_000_000),
  find: words,
  /** A condition, as JSON, that may read all that was computed. */
  when: string().max(20_000),
  /** Columns, by key, separated by commas: of the list itself, `field:` and a field's key, or `set:` and a score set's. */
  columns: string().matches(
    /^[a-z0-9_.:-]{1,60}(,[a-z0-9_.:-]{1,60}){0,29}$/,
    'must be up to 30 columns, separated by commas',
  ),
  order: string().oneOf(LIST_ORDERS).default('rank'),
  /** Where the last page ended; opaque. */
  after: string().max(200),
  size: number().integer().min(1).max(100).default(50),
};

const status = string()
  .oneOf(['open', ...CLOSINGS, 'any'])
  .default('open');
const id = number().integer().min(1).max(4_294_967_295);

export const leadQuerySchema = object({
  ...LIST_FILTERS,
  status,
  stage: keyText(),
  place: string().oneOf(['owner', 'queue', 'bay', 'not-handed-over']),
  queue: keyText(),
  /** Whether their owners were asked to accept them, and did. */
  acceptance: string().oneOf(['asked', 'accepted']),
  territory: keyText(),
  /** Where it came from. */
  source: words,
  /** Of one contact, or of one company. */
  contact: id,
  company: id,
}).exact();
export type LeadQuery = Partial<InferType<typeof leadQuerySchema>>;

/** A list of contacts or companies. */
export const partyQuerySchema = object({ ...LIST_FILTERS, company: id }).exact();
export const dealQuerySchema = object({
  ...LIST_FILTERS,
  status,
  stage: keyText(),
  contact: id,
  company: id,
  lead: id,
}).exact();
export type RecordQuery = Partial<InferType<typeof dealQuerySchema>>;

/** A list as the address bar has it, and as a view keeps it. */
export type ListQuery = Readonly<Record<string, string>>;

/** What of a list makes a view: everything but where one is in it. */
const VIEW_KEYS = [...Object.keys(leadQuerySchema.fields), ...Object.keys(dealQuerySchema.fields)].filter(
  (key) => key !== 'after' && key !== 'size',
);

export const saveViewSchema = object({
  name: trimmed().required('Give the view a name').max(80),
  shared: boolean().required(),
  kind: string().oneOf(RECORD_KINDS).default('lead'),
  query: mixed<ListQuery>(
    (value): value is ListQuery =>
      typeof value === 'object' &&
      value !== null &&
      Object.entries(value as Record<string, unknown>).every(
        ([key, text]) => VIEW_KEYS.includes(key) && typeof text === 'string',
      ),
  )
    .typeError('must be filters of a list')
    .required(),
}).exact();
export interface SaveView {
  readonly name: string;
  readonly shared: boolean;
  /** The kind of the records that it lists. */
  readonly kind: RecordKind;
  readonly query: ListQuery;
}
export interface SavedView extends SaveView {
  readonly id: number;
  readonly own: boolean;
  /** Whose it is. */
  readonly by: string;
}

/** Ids, separated by commas. */
export const leadNamesSchema = object({
  ids: string()
    .matches(/^\d{1,10}(,\d{1,10}){0,199}$/, 'must be up to 200 ids, separated by commas')
    .required(),
}).exact();
export interface LeadNames {
  readonly ids: string;
}
export interface LeadName {
  readonly id: number;
  readonly name: string;
  readonly company: string;
}

/** What one score set gives a lead; null: an axis can't be judged. */
export interface SetScoreCell {
  readonly rank: number | null;
  readonly fit: number | null;
  readonly engagement: number | null;
}

/** The cells of a row that a list has only where their columns are asked for. */
export interface AskedCells {
  /** The fields, as they read. */
  readonly values: Readonly<Record<string, string>>;
  /** The score sets, those that admit it. */
  readonly scores: Readonly<Record<string, SetScoreCell>>;
  /** When its next open task is due; null: it has none, or the column is not asked for. */
  readonly nextTask: Instant | null;
}
export const NO_CELLS: AskedCells = { values: {}, scores: {}, nextTask: null };

/** The scores and chosen columns of a record, as lists show them. */
export interface ScoredRow extends SetScoreCell, AskedCells {
  /** Whether a score set admits it, and the one that grades it. */
  readonly admitted: Answer;
  readonly scoreSet: string | null;
  readonly fitBand: number | null;
  readonly engagementBand: number | null;
  readonly grade: string | null;
}

/** A lead as a list shows it. */
export interface LeadRow extends ScoredRow, ListedLead {
  /** The gates that ask a person about it; empty where the column is not asked for. */
  readonly asks: readonly string[];
  /** The gates that hold it back although their condition holds, and for what; empty where the column is not asked for. */
  readonly waits: readonly { readonly gate: string; readonly words: string }[];
}

interface ListedLead {
  readonly id: number;
  readonly name: string;
  readonly company: string;
  readonly status: Status;
  readonly stage: string;
  readonly territory: string | null;
  readonly place: Place;
  /** Whether its owner was asked to accept it, and did; null: nobody asked. */
  readonly acceptance: 'asked' | 'accepted' | null;
  readonly arrived: Instant;
  readonly pipeline: string;
}

/** A lead in short: without the columns that a list has only where they are asked for. */
export type ShortLead = ListedLead & Omit<ScoredRow, keyof AskedCells>;

export interface LeadPage {
  readonly rows: readonly LeadRow[];
  /** The scores of the list are right as of this instant. */
  readonly asOf: Instant;
  /** Null on the last page. */
  readonly next: string | null;
}
