import {
  type Band,
  type ActivityKind,
  type Charter,
  type EnactScope,
  type Field,
  type Handling,
  type Instant,
  type NameLists,
  type Finding,
  type Reach,
  REACHES,
  type Pipeline,
  type StageMoves,
  type RecordKind,
} from '@relvik/core';
import { boolean, mixed, number, object, type ObjectSchema, string } from 'yup';
import { trimmed } from './text';

const note = trimmed().max(500).nullable();
export const newDraftSchema = object({
  name: trimmed().required('Give the draft a name').max(120),
  note,
  /** The charter it is copied from: a draft, or a past one to restore; without it the one in force. */
  from: number().integer().min(1),
}).exact();
export interface NewDraft {
  readonly name: string;
  readonly note?: string | null;
  readonly from?: number;
}

export const noteDraftSchema = object({ note }).exact();
export interface NoteDraft {
  readonly note: string | null;
}

/** A file made by export, or a charter as JSON. */
export const importDraftSchema = object({
  text: string().required('Choose a file').max(900_000, 'is too large for a charter'),
}).exact();
export interface ImportDraft {
  readonly text: string;
}

/** The whole charter is sent; `version` is the one that was read, so that nobody's save is overwritten silently. */
export const saveDraftSchema = object({
  version: number().integer().required(),
  charter: mixed<object>((value): value is object => typeof value === 'object').required(),
  /** Set when the draft was brought up to date: the number of the charter it then stands on. */
  base: number().integer().min(0),
}).exact();
export interface SaveDraft {
  readonly version: number;
  readonly charter: Charter;
  readonly base?: number;
}

const scope = object({
  which: string().oneOf(['all', 'touched', 'new']).required(),
  months: number()
    .integer()
    .min(1)
    .max(120)
    .when('which', { is: 'touched', then: (months) => months.required('Say how many months') }),
}).exact();
/** A union by `which`, which Yup's types can't say. */
export const enactScopeSchema = scope as unknown as ObjectSchema<EnactScope>;
export const enactSchema = object({
  version: number().integer().required(),
  reason: trimmed().required('Say why this comes into force').max(500),
  scope: enactScopeSchema.default({ which: 'all' as const }),
  reach: string().oneOf(REACHES).default('score'),
  /** Whether the records that are let through now get the tasks that gates and routes make. */
  tasks: boolean().default(true),
}).exact();
export interface Enact {
  readonly version: number;
  readonly reason: string;
  readonly scope?: EnactScope;
  readonly reach?: Reach;
  readonly tasks?: boolean;
}

export interface CharterInForce {
  readonly id: number;
  readonly number: number;
  readonly enactedAt: Instant;
  readonly charter: Charter;
}

export interface Draft {
  readonly id: number;
  readonly version: number;
  /** The number of the charter it was copied from. */
  readonly base: number;
  /** Another charter has come into force since. */
  readonly stale: boolean;
  readonly author: string;
  readonly note: string | null;
  readonly changedAt: Instant;
  readonly charter: Charter;
  /** Its findings, without those of a search of its routes. Errors keep it from being enacted. */
  readonly findings: readonly Finding[];
}

/** A draft or a past charter in a list. */
export interface CharterRow {
  readonly id: number;
  readonly name: string;
  readonly note: string | null;
  readonly author: string;
  readonly changedAt: Instant;
  readonly base: number;
  /** Null for a draft. */
  readonly number: number | null;
  readonly enactedAt: Instant | null;
  readonly reason: string | null;
  /** Who has it open. */
  readonly openFor: readonly string[];
}

export interface CharterState {
  readonly inForce: CharterInForce;
  /** The draft that the user has open. */
  readonly draft: Draft | null;
  readonly drafts: readonly CharterRow[];
  /** Newest first. */
  readonly past: readonly CharterRow[];
}

export const JOURNAL_ACTS = [
  'begun',
  'copied',
  'restored',
  'imported',
  'saved',
  'updated',
  'enacted',
  'discarded',
  'cancelled',
  'finished',
] as const;
export type JournalAct = (typeof JOURNAL_ACTS)[number];

export interface JournalRow {
  readonly id: number;
  readonly at: Instant;
  readonly by: string;
  readonly act: JournalAct;
  readonly charter: number;
  readonly number: number | null;
  readonly name: string;
  readonly why: string | null;
}

/** A charter as a file, with the SHA-256 of its canonical JSON. */
export interface CharterFile {
  readonly format: 'relvik-charter-file';
  readonly version: 1;
  readonly checksum: string;
  readonly charter: Charter;
}

/** A rescore after enact. */
export interface Job {
  readonly id: number;
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly charter: number;
  readonly scope: EnactScope;
  readonly reach: Reach;
  readonly startedBy: string;
  readonly done: number;
  readonly total: number;
  readonly changed: number;
  /** Leads that could not be rescored. */
  readonly failed: number;
  /** Why it ended as failed. */
  readonly error: string | null;
  readonly startedAt: Instant;
  readonly endedAt: Instant | null;
  /** When it will have ended at the pace so far; null before anything is done, and once it has ended. */
  readonly expectedEnd: Instant | null;
}

/** What a lead's page needs to put reasoning into words: names, and no rules. */
export interface WordingDocument {
  readonly names: NameLists;
  /** People who are retired: what they did has their names. Missing: none. */
  readonly retired?: NameLists['reps'];
  readonly fields: readonly Field[];
  readonly kinds: readonly ActivityKind[];
  readonly pipelines: readonly Pick<Pipeline, 'key' | 'name' | 'of' | 'stages' | 'entry'>[];
  /** The bands of each score set in force, from below. */
  readonly grids: readonly {
    readonly set: string;
    readonly of: RecordKind;
    readonly fit: readonly Band[];
    readonly engagement: readonly Band[];
  }[];
  readonly baseCurrency: string;
  readonly timeZone: string;
  /** How far rules are asked of leads that are typed in or edited by hand, where nothing else is said. */
  readonly byHand: Handling;
}

/** Counts and times of the stages of all pipelines, and the moves of the last 30 days. */
export interface PipelineFigures {
  readonly stages: readonly {
    readonly stage: string;
    readonly open: number;
    readonly closed: number;
    /** The median time that the open ones have stood in it, in days of 24 hours; null: none is open. */
    readonly days: number | null;
  }[];
  readonly moves: readonly StageMoves[];
}
