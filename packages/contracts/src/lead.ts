import {
  type Activity,
  type Answer,
  CLOSINGS,
  type Decision,
  type Instant,
  type LeadRecord,
  type Occasion,
  type Place,
  type PointsChange,
  type Raw,
  type Status,
  type Value,
} from '@relvik/core';
import { array, boolean, type InferType, mixed, number, object, string } from 'yup';
import { rawValues } from './raw-values';

/** A lead from another system. Only the fields listed on the key may be set. */
export const intakeSchema = object({ values: rawValues }).exact();
export interface Intake {
  readonly values: Readonly<Record<string, Raw>>;
}

/** A lead typed in by hand. */
export const newLeadSchema = object({
  values: rawValues,
  owner: string().max(48).nullable(),
  /** To try something: it can be removed again. */
  test: boolean(),
}).exact();
export interface NewLead extends Intake {
  readonly owner?: string | null;
  readonly test?: boolean;
}

export const editLeadSchema = object({ version: number().integer().required(), values: rawValues }).exact();
export interface EditLead extends Intake {
  readonly version: number;
}

export const assignSchema = object({ rep: string().required('Choose who takes the lead').max(48) }).exact();
export type Assign = InferType<typeof assignSchema>;

export const closeSchema = object({
  outcome: string().oneOf(CLOSINGS).required('Choose how it ended'),
  reason: string().trim().required('Say why, in a few words').max(500),
}).exact();
export type CloseLead = InferType<typeof closeSchema>;

const words = string().max(120);
export const LEAD_ORDERS = ['rank', 'fit', 'engagement', 'newest', 'oldest'] as const;
export type LeadOrder = (typeof LEAD_ORDERS)[number];

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
export type LeadColumn = (typeof LEAD_COLUMNS)[number];

export const leadQuerySchema = object({
  status: string()
    .oneOf(['open', ...CLOSINGS, 'any'])
    .default('open'),
  place: string().oneOf(['owner', 'queue', 'bay', 'not-handed-over']),
  owner: words,
  queue: words,
  stage: words,
  territory: words,
  grade: words,
  verdict: words,
  /** A fit band by its name; `none` for no grade. */
  fit: words,
  /** Where it came from. */
  source: words,
  /** Owned by members of a team. */
  team: words,
  /** The score set whose scores rank the list, which holds whom it scores; none: the set that grades each lead. */
  set: words,
  /** A rank of at least so much. */
  least: number().min(-1_000_000).max(1_000_000),
  /** An engagement band by its name. */
  engagement: words,
  find: words,
  /** A condition, as JSON, that may read all that was computed. */
  when: string().max(20_000),
  /** Columns, by key, separated by commas: of the list itself, `field:` and a field's key, or `set:` and a score set's. */
  columns: string().matches(
    /^[a-z0-9_:-]{1,60}(,[a-z0-9_:-]{1,60}){0,29}$/,
    'must be up to 30 columns, separated by commas',
  ),
  order: string().oneOf(LEAD_ORDERS).default('rank'),
  /** Where the last page ended; opaque. */
  after: string().max(200),
  size: number().integer().min(1).max(100).default(50),
}).exact();
export type LeadQuery = Partial<InferType<typeof leadQuerySchema>>;

/** A list as the address bar has it, and as a view keeps it. */
export type ListQuery = Readonly<Record<string, string>>;

/** What of a list makes a view: everything but where one is in it. */
const VIEW_KEYS = Object.keys(leadQuerySchema.fields).filter((key) => key !== 'after' && key !== 'size');

export const saveViewSchema = object({
  name: string().trim().required('Give the view a name').max(80),
  shared: boolean().required(),
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

/** A lead as a list shows it. */
export interface LeadRow {
  readonly id: number;
  readonly name: string;
  readonly company: string;
  readonly status: Status;
  /** Whether a score set admits it, and the one that grades it. */
  readonly admitted: Answer;
  readonly scoreSet: string | null;
  readonly fit: number | null;
  readonly engagement: number | null;
  readonly rank: number | null;
  readonly fitBand: number | null;
  readonly engagementBand: number | null;
  readonly grade: string | null;
  readonly stage: string;
  readonly territory: string | null;
  readonly place: Place;
  readonly arrived: Instant;
  /** The fields asked for as columns, as they read. */
  readonly values: Readonly<Record<string, string>>;
  /** The score sets asked for as columns, those that admit it. */
  readonly scores: Readonly<Record<string, SetScoreCell>>;
}

export interface LeadPage {
  readonly rows: readonly LeadRow[];
  /** The scores of the list are right as of this instant. */
  readonly asOf: Instant;
  /** Null on the last page. */
  readonly next: string | null;
}

/** What made a change: a person's hand, a way in, a rule of a charter, a charter that came into force, or Relvik itself. */
export type ChangeCause = 'hand' | 'form' | 'api' | 'csv' | 'rule' | 'charter' | 'relvik';

/** A value kept before causes and values had a form of their own. */
export interface ShownValue {
  readonly kind: 'shown';
  readonly text: string;
}

/** A field's value, a place, or the key of a stage, territory or status, or a grade; null: none. */
export type Changed = string | Value | ShownValue | Place | null;

/** One line of a lead's history. */
export interface Change {
  readonly field: string;
  readonly from: Changed;
  readonly to: Changed;
  /** What a person gave as the reason. */
  readonly reason: string | null;
  readonly at: Instant;
  readonly cause: ChangeCause;
  /** The name of the person or of the way in; empty where a rule did it. */
  readonly by: string;
  readonly charter: number | null;
  /** The gate or route, by its key. */
  readonly rule: string | null;
}

export interface LeadValue {
  readonly field: string;
  readonly shown: string;
  /** Null when it can be read. */
  readonly unreadable: string | null;
}

export interface LeadDetail extends Omit<LeadRow, 'values' | 'scores'> {
  readonly version: number;
  /** Made to try something. */
  readonly test: boolean;
  readonly closeReason: string | null;
  /** Its company as a record; null: none is named. */
  readonly companyId: number | null;
  readonly values: readonly LeadValue[];
  readonly activities: readonly Activity[];
  readonly history: readonly Change[];
  /** Leads that were joined into it and can still be taken apart. */
  readonly joined: readonly JoinedIn[];
  /** What this user may do with it. */
  readonly may: {
    readonly edit: boolean;
    readonly assign: boolean;
    readonly pickUp: boolean;
    readonly close: boolean;
    /** Bring it together with another open lead. */
    readonly join: boolean;
    /** Remove it as a test. */
    readonly remove: boolean;
  };
}

/** A lead as decisions read it. */
export interface RecordDocument {
  readonly id: number;
  readonly arrived: Instant;
  readonly pin: LeadRecord['pin'];
  readonly values: readonly (readonly [field: string, value: Value])[];
  readonly activities: readonly Activity[];
}

/** What became of a lead that came in. */
export interface Accepted {
  readonly id: number;
  /** True when it joined a lead that was open already. */
  readonly joined: boolean;
  readonly warnings: readonly { readonly field: string; readonly raw: string; readonly why: string }[];
}

/** The two readings of a lead's reasoning. */
export interface Reading {
  readonly decision: Decision;
  readonly charter: { readonly number: number; readonly name: string };
}
/** When a grade last moved, from what, and why. */
export interface GradeMove {
  readonly at: Instant;
  readonly from: string | null;
  readonly occasion: Occasion;
  /** What signals gave more or less than at the decision before. */
  readonly changes: readonly PointsChange[];
}
export interface Reasoning {
  /** As it was decided last. */
  readonly then: Reading;
  /** Where only scores changed since: as of when they are, and by which charter. */
  readonly rescored: { readonly at: Instant; readonly charter: Reading['charter'] } | null;
  /** Null: it never had a grade. */
  readonly gradeMoved: GradeMove | null;
  /** As it would be decided now, by the charter in force. */
  readonly now: Reading;
  readonly earlier: readonly {
    readonly at: Instant;
    readonly occasion: Occasion;
    readonly charter: number;
    readonly grade: string | null;
    readonly stage: string;
  }[];
}

/** Joins a lead with another of the same person; `take` names the fields in which the younger's value is taken. */
export const joinLeadsSchema = object({
  other: number().integer().min(1).required('Say which lead it is joined with'),
  take: array(string().required().max(48)).max(200).required(),
}).exact();

/** What a join would do. */
export interface JoinPreview {
  /** It keeps its id, stage and place; the other's id leads to it. */
  readonly older: LeadRow;
  readonly younger: LeadRow;
  readonly fields: readonly {
    readonly field: string;
    /** Null: the older has no value, and takes the younger's. */
    readonly older: string | null;
    readonly younger: string;
    /** Whether the younger's value is what its field holds. */
    readonly readable: boolean;
  }[];
  /** Activities that move. */
  readonly activities: number;
}

/** A lead that was joined into this one, and until when that can be undone. */
export interface JoinedIn {
  readonly id: number;
  readonly name: string;
  readonly at: Instant;
  readonly undoUntil: Instant;
}
