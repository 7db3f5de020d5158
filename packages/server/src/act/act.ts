import type {
  Closing,
  Decision,
  Effect,
  GivenTo,
  Giving,
  Handling,
  MadeTask,
  MovingRecord,
  Occasion,
  PersonMove,
  Place,
  QueueKey,
  RepKey,
  TerritoryKey,
  Value,
} from '@relvik/core';
import type { LeadEntity } from '../store/entity/lead.entity';
import { type StoredLead, tiesOf } from '../store/load-leads';
import type { Ties } from '../store/tied-values';
import type { Cause } from './cause';

type PersonsMove = PersonMove & { readonly reason: string | null };

/** The record is decided by the charter in force. */
interface Decide {
  readonly kind: 'decide';
  readonly occasion: Exclude<Occasion, 'looked-at'>;
  /** A person's act that comes first: a move, or giving it to a route or team; null: none. */
  readonly person: PersonsMove | Giving | null;
  /** The tasks of gates and routes are left out. Missing: they are made. */
  readonly withoutTasks?: boolean;
  /** How far rules are asked. Missing: all are. */
  readonly handling?: Handling;
  /** Why its owner gave it back. */
  readonly placeReason?: string;
  /** Why a hand pinned it, or let it go. */
  readonly pinReason?: string | null;
}

/** A person says where the record is, or how it ended; no rule is asked. */
interface Move {
  readonly kind: 'move';
  readonly place: Place;
  readonly closing: { readonly outcome: Closing; readonly reason: string; readonly keepTasks?: boolean } | null;
  /** It is open again, in this stage. Missing: it stays as it is. */
  readonly reopens?: { readonly stage: string };
  /** Why a hand gave it back; null: nobody asks. */
  readonly reason: string | null;
  /** The queue from which its new owner picks it up; null: from none. */
  readonly from: QueueKey | null;
  /** For whom its new owner stands in, who gets it back; null: for nobody. */
  readonly deputyFor: RepKey | null;
  readonly effects: readonly Effect[];
}

/** What happens to one record, in order of acceptance. */
export interface Act {
  /** With what changes already in it. */
  readonly record: MovingRecord;
  /** As it is stored; null for a lead that just came in. */
  readonly stored: LeadEntity | null;
  /** For a lead that just came in: whether it is a test. */
  readonly test: boolean;
  readonly asOf: Date;
  readonly cause: Cause;
  /** Whether its way in is trusted; what another says fills blanks only, of contact and company too. */
  readonly trusted: boolean;
  /** Field values that changed, with what they were. */
  readonly values: ReadonlyMap<string, Value>;
  readonly valuesBefore: ReadonlyMap<string, Value>;
  readonly change: Decide | Move;
  /** Its contact and company, as far as they are known. */
  readonly ties: Ties;
}

export type { Ties };

const NONE: ReadonlyMap<string, Value> = new Map();

/** A stored lead decided again. */
export function again({ entity, record }: StoredLead, occasion: Decide['occasion'], cause: Cause, asOf: Date): Act {
  return {
    record,
    stored: entity,
    test: entity.test,
    asOf,
    cause,
    trusted: true,
    values: NONE,
    valuesBefore: NONE,
    change: { kind: 'decide', occasion, person: null },
    ties: tiesOf(entity),
  };
}

/** A stored lead with other values, decided again. */
export function edited(
  { entity, record }: StoredLead,
  changed: ReadonlyMap<string, Value>,
  occasion: Decide['occasion'],
  cause: Cause,
  asOf: Date,
  handling: Handling = 'decide',
): Act {
  return {
    ...again({ entity, record: { ...record, values: new Map([...record.values, ...changed]) } }, occasion, cause, asOf),
    values: changed,
    valuesBefore: record.values,
    change: { kind: 'decide', occasion, person: null, handling },
  };
}

/**
 * A stored lead that a person moves to another stage, or whose question they answer so; rules are asked from there.
 *
 * @param changed values that change with it
 */
export function movedOn(
  lead: StoredLead,
  person: PersonsMove,
  cause: Cause,
  asOf: Date,
  changed: ReadonlyMap<string, Value> = NONE,
): Act {
  const occasion = person.kind === 'accepts' ? 'accepted' : 'moved';
  return { ...edited(lead, changed, occasion, cause, asOf), change: { kind: 'decide', occasion, person } };
}

/** A stored lead that a person gives to a route or team, which choose who gets it. */
export function given(lead: StoredLead, to: GivenTo, cause: Cause, asOf: Date): Act {
  return {
    ...again(lead, 'given', cause, asOf),
    change: { kind: 'decide', occasion: 'given', person: { kind: 'gives', to } },
  };
}

/** A stored lead pinned to a territory, or unpinned; it is decided again. */
export function pinned(
  { entity, record }: StoredLead,
  pin: TerritoryKey | null,
  reason: string | null,
  cause: Cause,
  asOf: Date,
): Act {
  const standing = { ...record.standing, pin };
  return {
    ...again({ entity, record: { ...record, standing } }, 'edited', cause, asOf),
    change: { kind: 'decide', occasion: 'edited', person: null, pinReason: reason },
  };
}

/** A stored lead placed or closed by hand. */
export function moved(
  lead: StoredLead,
  {
    place,
    closing = null,
    reopens,
    reason = null,
    from = null,
    deputyFor = null,
    effects = [],
  }: Partial<Omit<Move, 'kind'>> & Pick<Move, 'place'>,
  cause: Cause,
  asOf: Date,
): Act {
  return {
    ...again(lead, 'edited', cause, asOf),
    change: {
      ...{ kind: 'move', place, closing, reason, from, deputyFor, effects },
      ...(reopens === undefined ? {} : { reopens }),
    },
  };
}

/** The tasks that are made with the decision of an act. */
export function tasksOf({ change }: Act, decision: Decision | null): readonly MadeTask[] {
  const leftOut = change.kind === 'decide' && change.withoutTasks === true;
  return leftOut ? [] : (decision?.tasks ?? []);
}
