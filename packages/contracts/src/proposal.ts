import type { Activity, Concordance, Instant, PipelineKind, StageKey } from '@relvik/core';
import { array, type InferType, number, object, string } from 'yup';
import type { Change } from './lead';
import type { ShortLead } from './lead-list';
import { keyText, trimmed } from './text';

export const PROPOSAL_ORDERS = ['oldest', 'rank'] as const;
export type ProposalOrder = (typeof PROPOSAL_ORDERS)[number];

export const proposalQuerySchema = object({
  order: string().oneOf(PROPOSAL_ORDERS).default('oldest'),
  /** Of one gate. */
  gate: keyText(),
  /** From 0. */
  page: number().integer().min(0).max(100_000).default(0),
}).exact();
export type ProposalQuery = Partial<InferType<typeof proposalQuerySchema>>;

/** The lead or deal that a proposal is about; of a deal, `company` is that of its tie. */
export type AskedRecord = { readonly kind: PipelineKind } & Pick<
  ShortLead,
  'id' | 'name' | 'company' | 'grade' | 'fitBand' | 'engagementBand' | 'rank' | 'stage' | 'territory'
>;

/** A proposal that is open, with its record. */
export interface ProposalRow {
  readonly id: number;
  readonly record: AskedRecord;
  readonly gate: string;
  readonly askedAt: Instant;
  /** The rule's pick as of now; null: its gate does not hold any more. */
  readonly pick: StageKey | null;
  /** Why it asks, or why it would not any more. */
  readonly why: string;
  /** The stages to which a person may let it go: that of the gate first. */
  readonly outcomes: readonly { readonly to: StageKey; readonly why: string }[];
}

export interface ProposalPage {
  readonly rows: readonly ProposalRow[];
  /** Of the gate asked for. */
  readonly count: number;
  /** When the oldest was asked; null: there is none. */
  readonly oldest: Instant | null;
  readonly size: number;
  /** How many there are of each gate. */
  readonly gates: readonly { readonly gate: string; readonly count: number }[];
}

/** A proposal with what happened with its record since it was asked, the newest first. */
export interface ProposalDetail extends ProposalRow {
  readonly changes: readonly Change[];
  readonly activities: readonly Activity[];
}

/** A proposal about a lead or deal, open or settled. */
export interface PastProposal {
  readonly id: number;
  readonly gate: string;
  readonly state: 'open' | 'taken' | 'refused' | 'withdrawn';
  readonly pick: string;
  /** The stage to which a person moved the record. */
  readonly answer: string | null;
  /** The rule's pick at that moment; null: it would not have asked. */
  readonly rule: string | null;
  readonly by: string;
  readonly reason: string | null;
  readonly why: 'not-true' | 'left-stage' | 'closed' | 'joined' | 'gate-gone' | null;
  readonly askedAt: Instant;
  readonly decidedAt: Instant | null;
}

const id = number().integer().min(1).max(4_294_967_295);
const MOST_AT_ONCE = 200;

/** The answer to each: a stage, or null to refuse. Refusing takes a reason. */
export const decideProposalsSchema = object({
  decisions: array(object({ id: id.required(), answer: keyText().nullable().defined('Say what you decide') }).exact())
    .min(1, 'Choose at least one')
    .max(MOST_AT_ONCE)
    .required(),
  reason: trimmed().max(500).nullable(),
})
  .exact()
  .test('reason', 'Say why you refuse, in a few words', isWithReason);
export interface DecideProposals {
  readonly decisions: readonly { readonly id: number; readonly answer: string | null }[];
  readonly reason?: string | null;
}

function isWithReason(value: unknown): boolean {
  const { decisions, reason } = value as { decisions?: unknown; reason?: unknown };
  const refuses = Array.isArray(decisions) && decisions.some((one) => (one as { answer?: unknown }).answer === null);
  return !refuses || (typeof reason === 'string' && reason.trim() !== '');
}

export const undoProposalsSchema = object({
  ids: array(id.required()).min(1, 'Choose at least one').max(MOST_AT_ONCE).required(),
}).exact();

/** The result of work on several at once: those that were not done are told why. */
export interface DoneEach {
  readonly done: readonly number[];
  readonly refused: readonly { readonly id: number; readonly why: string }[];
}

export const concordanceQuerySchema = object({
  gate: keyText().required('Choose a gate'),
  days: number().integer().min(1).max(3650).default(90),
}).exact();

/** Decisions of people about the proposals of a gate, against those of the rule. */
export interface GateConcordance extends Concordance {
  readonly gate: string;
  readonly days: number;
}

/** Leads that a hand moves to another stage of their pipeline. */
export const moveLeadsSchema = object({
  ids: array(id.required()).min(1, 'Choose at least one').max(1000).required(),
  stage: keyText().required('Choose a stage'),
  /** Needed where no gate that holds leads there. */
  reason: trimmed().max(500).nullable(),
}).exact();
export interface MoveLeads {
  readonly ids: readonly number[];
  readonly stage: string;
  readonly reason?: string | null;
}
