import type { VerdictKey } from '../grade/verdict';
import type { Instant, QueueKey, RepKey, RouteKey, StageKey, TeamKey, TerritoryKey } from './keys';
import type { Value } from './value';

/** Something that happened with a lead. */
export interface Activity {
  /** A kind of activity, such as `mail_opened`. */
  readonly kind: string;
  readonly at: Instant;
  /** What else is known of it, such as the page visited; by property. */
  readonly properties?: Readonly<Record<string, string>>;
}

export const CLOSINGS = ['won', 'lost', 'disqualified'] as const;
export type Closing = (typeof CLOSINGS)[number];
export type Status = 'open' | Closing;

/** Why a lead waits in the bay. */
export type BayReason =
  | {
      readonly why: 'nobody-free';
      readonly route: RouteKey;
      readonly rep: RepKey | null;
      readonly team: TeamKey | null;
    }
  | { readonly why: 'unjudged'; readonly fields: readonly string[] }
  | { readonly why: 'loop'; readonly gates: readonly string[] };

/** Where a lead is. Always exactly one. */
export type Place =
  | { readonly kind: 'owner'; readonly rep: RepKey }
  | { readonly kind: 'queue'; readonly queue: QueueKey }
  | { readonly kind: 'bay'; readonly reason: BayReason }
  /** `verdict` is null for a lead that was closed by hand before it had a grade. */
  | { readonly kind: 'not-handed-over'; readonly verdict: VerdictKey | null };

/**
 * A record's look at a gate of its stage. `true`: its condition held at the last look, so that it does not act before it
 * was false. `held`: the gate was not run, but its condition held at the last decision: it acts on the next occasion, unless
 * that is the passing of time alone.
 */
export type Look = 'true' | 'held';

/** By which way a lead came in. */
export const WAYS = ['form', 'api', 'hand', 'csv'] as const;
export type Way = (typeof WAYS)[number];

/** A lead as a decision reads it. */
export interface LeadRecord {
  readonly id: string;
  readonly arrived: Instant;
  readonly status: Status;
  /** `null` before the first decision: the entry stage is entered by it. */
  readonly stage: StageKey | null;
  /** When it entered its stage; `null`: with its arrival. */
  readonly stageSince: Instant | null;
  readonly place: Place | null;
  /** Null for what did not come in by any: a company. */
  readonly way: Way | null;
  /** A territory set by hand, kept when the address changes. */
  readonly pin: TerritoryKey | null;
  readonly values: ReadonlyMap<string, Value>;
  readonly activities: readonly Activity[];
  /** Looks of the gates of its stage, by {@link lookKey}; absent: false, and it did not hold. */
  readonly looks: ReadonlyMap<string, Look>;
}

/**
 * What makes Relvik look at a record. When a charter comes into force: `enacted` scores and grades, `regated` runs gates
 * too, `rerouted` also routes what has no owner. `looked-at` changes nothing: it answers "what would be decided now".
 */
export const OCCASIONS = [
  'created',
  'joined',
  'edited',
  'activity',
  'time',
  'freed',
  'enacted',
  'regated',
  'rerouted',
  'looked-at',
] as const;
export type Occasion = (typeof OCCASIONS)[number];

/** Whether a lead still counts as work: not closed. */
export function isOpen(record: { readonly status: Status }): boolean {
  return record.status === 'open';
}
