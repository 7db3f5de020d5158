import {
  type Obstacle,
  type Activity,
  CLOSINGS,
  type Decision,
  type Instant,
  type Method,
  METHODS,
  type Handling,
  HANDLINGS,
  type Occasion,
  type Place,
  type PointsChange,
  type Raw,
  type RecordFacts,
  type RepKey,
  type Standing,
  type Status,
  type Value,
} from '@relvik/core';
import { array, boolean, type InferType, number, object, string } from 'yup';
import type { JoinedIn } from './join';
import type { ShortLead } from './lead-list';
import type { TieNames } from './record';
import type { DoneEach, PastProposal } from './proposal';
import { rawValues } from './raw-values';
import { keyText, trimmed } from './text';

/** How far rules are asked; what is missing is as set for the way in. */
const handling = string<Handling>().oneOf(HANDLINGS);

/** A lead from another system. Only the fields listed on the key may be set. */
export const intakeSchema = object({ values: rawValues, pipeline: keyText().nullable() }).exact();
export interface Intake {
  /** The key of the pipeline into which it comes; null: the first. */
  readonly pipeline?: string | null;
  readonly values: Readonly<Record<string, Raw>>;
}

/** A lead typed in by hand. */
export const newLeadSchema = object({
  values: rawValues,
  pipeline: keyText().nullable(),
  owner: keyText().nullable(),
  /** To try something: it can be removed again. */
  test: boolean(),
  handling,
}).exact();
export interface NewLead extends Intake {
  readonly owner?: string | null;
  readonly test?: boolean;
  readonly handling?: Handling;
}

export const editLeadSchema = object({
  version: number().integer().required(),
  values: rawValues,
  handling,
}).exact();
export interface EditLead extends Pick<Intake, 'values'> {
  readonly version: number;
  readonly handling?: Handling;
}

export const assignSchema = object({ rep: keyText().required('Choose who takes the lead') }).exact();
export type Assign = InferType<typeof assignSchema>;

/** Where leads can be given by hand. `again`: the routes choose, as if they came to their stage now. */
export const GIVEN_TO = ['rep', 'team', 'queue', 'route', 'again'] as const;
/** The members that say where leads are given. */
export const givenToMembers = {
  to: string().oneOf(GIVEN_TO).required('Choose where they go'),
  /** The key of the rep, team, queue or route; null where the routes choose. */
  key: keyText().nullable().defined(),
  /** The method by which one of a team is chosen. Missing: round robin. */
  method: string().oneOf(METHODS),
};
/** Gives leads to a person or queue, or lets a team, a route or all routes choose. */
export const giveSchema = object({
  ids: array(number().integer().min(1).required()).min(1, 'Choose at least one').max(1000).required(),
  ...givenToMembers,
}).exact();
export interface Give {
  readonly ids: readonly number[];
  readonly to: (typeof GIVEN_TO)[number];
  readonly key: string | null;
  readonly method?: Method;
}

/** The number of leads that each place gets, or would get. */
export interface Given extends DoneEach {
  readonly places: readonly { readonly place: Place; readonly leads: number }[];
}

/** Pins leads to a territory, whatever their address; null: unpins them. */
export const pinSchema = object({
  ids: array(number().integer().min(1).required()).min(1, 'Choose at least one').max(1000).required(),
  territory: keyText().nullable().defined(),
  reason: trimmed().max(500).nullable(),
}).exact();
export interface Pin {
  readonly ids: readonly number[];
  readonly territory: string | null;
  readonly reason?: string | null;
}

/** Why a lead is given back to its queue. */
export const giveBackSchema = object({
  reason: trimmed().required('Say why, in a few words').max(500),
}).exact();
export type GiveBack = InferType<typeof giveBackSchema>;

export const closeSchema = object({
  outcome: string().oneOf(CLOSINGS).required('Choose how it ended'),
  reason: trimmed().required('Say why, in a few words').max(500),
  /** Its open tasks stay open; else they are cancelled. */
  keepTasks: boolean().default(false),
}).exact();
export interface CloseLead extends Pick<InferType<typeof closeSchema>, 'outcome' | 'reason'> {
  readonly keepTasks?: boolean;
}

/** What made a change: a person's hand, a way in, a rule of a charter, a charter that came into force, or Relvik itself. */
export type ChangeCause = 'hand' | 'form' | 'api' | 'csv' | 'rule' | 'charter' | 'relvik';

/** A value kept before causes and values had a form of their own. */
export interface ShownValue {
  readonly kind: 'shown';
  readonly text: string;
}

/** A field's value, a place, or the key of a stage, territory or status, or a grade by the keys of its bands; null: none. */
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

/** A deal of a lead. */
export interface DealOfLead {
  readonly id: number;
  readonly name: string;
  readonly stage: string;
  readonly status: Status;
  /** Its amount as entered; empty: none is known. */
  readonly amount: string;
}

export interface LeadDetail extends ShortLead {
  readonly version: number;
  /** Made to try something. */
  readonly test: boolean;
  readonly closeReason: string | null;
  /** The territory it is pinned to; null: it follows its address. */
  readonly pin: string | null;
  /** Someone who is away, and for whom the owner stands in; null: for nobody. */
  readonly deputyFor: RepKey | null;
  /** Its contact and its company, as far as they are known. */
  readonly ties: TieNames;
  readonly values: readonly LeadValue[];
  readonly activities: readonly Activity[];
  readonly history: readonly Change[];
  /** Values sent but not taken: they can't be read, or their way in is not trusted. */
  readonly said: readonly SaidValue[];
  /** Leads that were joined into it and can still be taken apart. */
  readonly joined: readonly JoinedIn[];
  /** Its deals, the newest first. */
  readonly ofDeals: readonly DealOfLead[];
  /** How many tasks about it are open. */
  readonly openTasks: number;
  /** Its proposals, the newest first. */
  readonly proposals: readonly PastProposal[];
  /** Where a hand may move it; without a reason along a gate that holds. */
  readonly moves: readonly { readonly stage: string; readonly needsReason: boolean }[];
  /** What this user may do with it. */
  readonly may: {
    readonly edit: boolean;
    readonly assign: boolean;
    readonly pickUp: boolean;
    /** Accept it, where its owner is asked. */
    readonly accept: boolean;
    /** Give it back to the queue from which it was picked up, or to the routes. */
    readonly giveBack: boolean;
    readonly close: boolean;
    /** Move it to another stage by hand. */
    readonly move: boolean;
    /** Answer what gates ask about it. */
    readonly decide: boolean;
    /** Bring it together with another open lead. */
    readonly join: boolean;
    /** Remove it as a test. */
    readonly remove: boolean;
  };
}

/** A record as decisions read it. */
export interface RecordDocument {
  readonly id: number;
  readonly arrived: Instant;
  readonly way: RecordFacts['way'];
  /** The territory it is pinned to by hand; of a lead alone. */
  readonly pin: Standing['pin'];
  readonly values: readonly (readonly [field: string, value: Value])[];
  /** Values of its contact and company that conditions read across a tie. */
  readonly tied: readonly (readonly [field: string, value: Value])[];
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
  /** Why an open one has not moved: each gate of its stage, and what stands in its way now. */
  readonly notMoved: readonly Obstacle[];
  /** As it would be decided now, by the charter in force. */
  readonly now: Reading;
  /** The owner of its company, where a route led to them for that. */
  readonly companyOwner: { readonly rep: RepKey; readonly since: Instant } | null;
  readonly earlier: readonly {
    readonly at: Instant;
    readonly occasion: Occasion;
    readonly charter: number;
    readonly grade: string | null;
    readonly stage: string;
  }[];
}

/** A value sent for a lead but not taken, beside its known value. */
export interface SaidValue {
  readonly field: string;
  readonly shown: string;
  /** Why it can't be read; null: it can. */
  readonly unreadable: string | null;
  readonly way: 'form' | 'api' | 'csv' | 'hand';
  readonly by: string;
  readonly at: Instant;
}

/** Whether what was said of a field is taken over; else what is known stays. */
export const settleSaidSchema = object({ field: keyText().required(), take: boolean().required() }).exact();

/** The leads that routes are tried with: ids and e-mails, or null for the last that routes placed. */
export const nextLeadsSchema = object({
  written: array(string().min(1).max(320).required())
    .min(1, 'Name at least one')
    .max(50, 'may be at most 50')
    .nullable()
    .defined(),
}).exact();
export interface NextLeads {
  readonly leads: readonly { readonly name: string; readonly company: string; readonly record: RecordDocument }[];
  /** Entries that match no lead. */
  readonly unknown: readonly string[];
}
