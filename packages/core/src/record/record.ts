import type { Instant, StageKey, TerritoryKey } from './keys';
import type { Place } from './place';
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

/** Whether a lead still counts as work: not closed. */
export function isOpen(record: { readonly status: Status }): boolean {
  return record.status === 'open';
}
