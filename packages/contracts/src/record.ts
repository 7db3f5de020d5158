import type {
  Activity,
  Grade,
  Instant,
  Obstacle,
  RecordKind,
  Score,
  Status,
  TieKind,
  UnroutedKind,
} from '@relvik/core';
import { array, boolean, type InferType, number, object, string } from 'yup';
import type { JoinedIn } from './join';
import type { Change, LeadValue, SaidValue } from './lead';
import type { AskedCells, ShortLead, ScoredRow } from './lead-list';
import type { DoneEach, PastProposal } from './proposal';
import { rawValues } from './raw-values';
import { keyText, trimmed } from './text';

/** A record that another is tied to, as it is called. */
export interface TieName {
  readonly id: number;
  readonly name: string;
}

export type TieNames = Readonly<Record<TieKind, TieName | null>>;

/** A contact, company or deal as a list shows it. */
export interface RecordRow extends ScoredRow {
  readonly id: number;
  readonly name: string;
  readonly owner: string | null;
  readonly arrived: Instant;
  readonly ties: TieNames;
  /** Its leads in sight, open and closed. */
  readonly leads: number;
  /** Of a deal; null for what stands in no stage. */
  readonly status: Status | null;
  readonly stage: string | null;
}

/** The columns of lists of contacts, companies and deals, beside the name. */
export const RECORD_COLUMNS = {
  contact: ['company', 'grade', 'rank', 'fit', 'engagement', 'owner', 'leads', 'arrived'],
  company: ['grade', 'rank', 'fit', 'engagement', 'owner', 'leads', 'arrived'],
  deal: ['company', 'contact', 'stage', 'grade', 'rank', 'fit', 'engagement', 'owner', 'arrived'],
} as const satisfies Readonly<Record<UnroutedKind, readonly string[]>>;
/** Further columns of all of them, which nobody sees who did not choose them. */
export const MORE_RECORD_COLUMNS = ['task'] as const;
export type RecordColumn = (typeof RECORD_COLUMNS)[UnroutedKind][number] | (typeof MORE_RECORD_COLUMNS)[number];

export interface RecordPage {
  readonly rows: readonly RecordRow[];
  /** The scores of the list are right as of this instant. */
  readonly asOf: Instant;
  /** Null on the last page. */
  readonly next: string | null;
}

/** A value of a contact, company or deal, and how it came there. */
export interface RecordValue extends LeadValue {
  /** Set by hand on this very record: it stays until a hand changes it. */
  readonly byHand: boolean;
}

/** A contact, company or deal with all that its page shows. */
export interface RecordDetail extends Omit<RecordRow, keyof AskedCells> {
  readonly kind: UnroutedKind;
  readonly version: number;
  readonly closeReason: string | null;
  /** The lead that a deal came from. */
  readonly lead: TieName | null;
  readonly values: readonly RecordValue[];
  /** As the charter in force scores it at this moment. */
  readonly score: Score;
  readonly gradedNow: Grade | null;
  readonly asOf: Instant;
  /** Of it and, for contact and company, of the records below it that are in sight; the newest first. */
  readonly activities: readonly (Activity & { readonly record: TieName | null })[];
  readonly history: readonly Change[];
  readonly said: readonly SaidValue[];
  readonly ofLeads: readonly ShortLead[];
  readonly ofDeals: readonly RecordRow[];
  readonly ofContacts: readonly RecordRow[];
  /** Alias names, domains or e-mails. */
  readonly knownBy: readonly { readonly kind: 'name' | 'domain' | 'email'; readonly text: string }[];
  /** How many of its leads are still to be decided again since it changed; 0 for a user who does not see all of them. */
  readonly leadsDue: number;
  /** Those that were joined into it and can still be taken apart. */
  readonly joined: readonly JoinedIn[];
  /** How many tasks about it are open. */
  readonly openTasks: number;
  /** The rights of this user on it. */
  readonly may: { readonly edit: boolean; readonly assign: boolean; readonly decide: boolean };
  /** Of a deal: what gates asked about it, the newest first. */
  readonly proposals: readonly PastProposal[];
  /** Of an open deal: why it has not moved, by each gate of its stage. */
  readonly notMoved: readonly Obstacle[];
}

/** Makes a lead of each of several contacts or companies. */
export const makeLeadsSchema = object({
  ids: array(number().integer().min(1).max(4_294_967_295).required())
    .min(1, 'Choose at least one')
    .max(1000)
    .required(),
  /** The key of the pipeline into which they come; null: the first. */
  pipeline: keyText().nullable(),
}).exact();
export interface MakeLeads {
  readonly ids: readonly number[];
  readonly pipeline?: string | null;
}
export interface LeadsMade {
  /** Each with what it is of; `wasOpen`: it was open already, and stays. */
  readonly leads: readonly { readonly of: number; readonly lead: number; readonly wasOpen: boolean }[];
  readonly refused: DoneEach['refused'];
}

const tie = number().integer().min(1).max(4_294_967_295).nullable();

/** A contact, company or deal made by hand; a deal of a lead, contact or company. */
export const newRecordSchema = object({
  values: rawValues,
  contact: tie,
  company: tie,
  lead: tie,
  owner: keyText().nullable(),
  /** The pipeline of a deal; null: the first. */
  pipeline: keyText().nullable(),
}).exact();
export type NewRecord = InferType<typeof newRecordSchema>;

export const editRecordSchema = object({
  version: number().integer().required(),
  values: rawValues,
  /** The company of a contact, or of a deal; missing: it stays. */
  company: tie,
}).exact();
export type EditRecord = InferType<typeof editRecordSchema>;

/** The new owner; null: nobody. */
export const ownRecordSchema = object({ owner: keyText().nullable().defined('Choose who owns it') }).exact();

/** The stage that a deal is moved to; one that closes takes a reason. */
export const moveDealSchema = object({
  stage: keyText().required('Choose a stage'),
  reason: trimmed().max(500).nullable(),
  /** Where it closes: its open tasks stay open; else they are cancelled. */
  keepTasks: boolean().default(false),
}).exact();
export interface MoveDeal extends Pick<InferType<typeof moveDealSchema>, 'stage' | 'reason'> {
  readonly keepTasks?: boolean;
}

/** The deals of a list that stand in one stage: how many, what they are worth, and what is amiss with them. */
export interface StageSum {
  readonly stage: string;
  readonly count: number;
  /** Their amounts in the base currency, in its smallest unit. */
  readonly sum: number;
  /** Of how many no amount is known, or none that can be read. */
  readonly withoutAmount: number;
  /** For the amounts of how many there is no rate: they are not in the sum. */
  readonly withoutRate: number;
  /** How many open ones should have been closed by today. */
  readonly overdue: number;
}

export interface DealSums {
  /** Only stages in which there is any. */
  readonly stages: readonly StageSum[];
  readonly currency: string;
}

export const knownBySchema = object({
  kind: string().oneOf(['name', 'domain', 'email']).required(),
  text: trimmed().required('Write what it is known by').max(190),
}).exact();
export type KnownBy = InferType<typeof knownBySchema>;

/** Words and domains that name no company. */
export interface NoCompanyRow {
  readonly kind: 'name' | 'domain';
  readonly word: string;
}
export const noCompanySchema = object({
  kind: string().oneOf(['name', 'domain']).required(),
  word: trimmed().required('Write the word').max(190),
}).exact();

/** A record that was found, and what tells it apart from others of its name. */
export interface FoundRecord {
  readonly kind: RecordKind;
  readonly id: number;
  readonly name: string;
  readonly beside: string;
}

export const findSchema = object({ text: trimmed().required('Write what to look for').max(120) }).exact();

/** Two that may be one. */
export interface SuggestionRow {
  readonly id: number;
  readonly kind: TieKind;
  readonly older: TieName;
  readonly younger: TieName;
  readonly at: Instant;
}
