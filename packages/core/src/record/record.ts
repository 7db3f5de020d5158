import type { Instant, RepKey, RouteKey, StageKey, TerritoryKey } from './keys';
import type { PipelineKind, RecordKind } from './kind';
import type { Place } from './place';
import type { Value } from './value';

/** Something that happened with a record. */
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

/** The data of a record of any kind: its values and its activities. */
export interface RecordFacts {
  readonly id: string;
  readonly kind: RecordKind;
  /** When it came in, or was made. */
  readonly arrived: Instant;
  /** Null for what did not come in by any: a company. */
  readonly way: Way | null;
  readonly values: ReadonlyMap<string, Value>;
  readonly activities: readonly Activity[];
  /** Values of its contact and company that conditions read, by key of the field. Missing: none. */
  readonly tied?: ReadonlyMap<string, Value>;
}

/** Where a record of a kind with pipelines stands: what gates, streams and hands move. */
export interface Standing {
  readonly status: Status;
  /** The pipeline that its way in named; null: the first of its kind. */
  readonly cameInto: string | null;
  /** `null` before the first decision: the entry stage of its pipeline is entered by it. */
  readonly stage: StageKey | null;
  /** When it entered its stage; `null`: with its arrival. */
  readonly stageSince: Instant | null;
  readonly place: Place | null;
  /** The route that gave it its place. Missing or null: a hand or a file did, or nothing yet. */
  readonly placedBy?: RouteKey | null;
  /** Those who gave it back since a hand gave it to someone: it is not given to them again. Missing: nobody. */
  readonly givenBackBy?: readonly RepKey[];
  /** Its territory at the last decision. Missing: not known. */
  readonly territory?: TerritoryKey | null;
  /** Whether a deal of it is open. Missing: none is. */
  readonly hasOpenDeal?: boolean;
  /** A territory set by hand, kept when the address changes. */
  readonly pin: TerritoryKey | null;
  /** Looks of the gates of its stage, by {@link lookKey}; absent: false, and it did not hold. */
  readonly looks: ReadonlyMap<string, Look>;
}

/** A record of any kind; one of a kind without pipelines stands nowhere. */
export interface AnyRecord extends RecordFacts {
  readonly standing: Standing | null;
}

/** A record that moves through stages, as a decision reads it. */
export interface MovingRecord extends AnyRecord {
  readonly kind: PipelineKind;
  readonly standing: Standing;
}

/** The standing of what just came in: before its first decision it stands nowhere. */
export const JUST_IN: Standing = {
  status: 'open',
  cameInto: null,
  stage: null,
  stageSince: null,
  place: null,
  pin: null,
  looks: new Map(),
};

/** Whether a record still counts as work: not closed. */
export function isOpen({ status }: Pick<Standing, 'status'>): boolean {
  return status === 'open';
}
