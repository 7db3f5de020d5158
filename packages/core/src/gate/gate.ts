import type { Condition } from '../condition/condition';
import type { QueueKey, StageKey, TeamKey } from '../record/keys';
import type { GateEffect } from './effect';

/** The people whom a gate asks about a record that has no owner. */
export type AskedGroup =
  { readonly kind: 'team'; readonly team: TeamKey } | { readonly kind: 'queue'; readonly queue: QueueKey };

/** Another stage that a gate proposes in place of its own. */
export interface Alternative {
  readonly to: StageKey;
  /** The first alternative whose condition holds is the rule's pick. */
  readonly when: Condition;
}

/** How it is decided that a record passes a gate. */
export type Decider =
  /** The gate itself moves the record. */
  | { readonly kind: 'rule' }
  /** The gate asks its owner, who moves it, to the rule's pick or elsewhere, or refuses. */
  | {
      readonly kind: 'asks';
      /** Null: nobody but the admins. */
      readonly withoutOwner: AskedGroup | null;
      readonly alternatives: readonly Alternative[];
    }
  /** Nobody is asked: a person moves it when they see fit. */
  | { readonly kind: 'person' };

export const BY_RULE: Decider = { kind: 'rule' };

/** A move between two stages, made when its condition, required fields and time become true together. */
export interface Gate {
  readonly key: string;
  readonly name: string;
  readonly from: StageKey;
  readonly to: StageKey;
  readonly on: boolean;
  readonly when: Condition;
  /** Keys of fields that must be filled, of the record or of its contact or company. */
  readonly requiredFields: readonly string[];
  /** The record must have stood in `from` for so many whole days, by the charter's calendar; 0: no time is asked for. */
  readonly minDays: number;
  /** The same in whole hours; a gate asks for days or hours, not for both. */
  readonly minHours: number;
  readonly decider: Decider;
  /** Applied to records that move to its own stage; another outcome changes nothing. */
  readonly effects: readonly GateEffect[];
}

type Requirements = Pick<Gate, 'when' | 'requiredFields' | 'minDays' | 'minHours'>;

/** The test that a field is filled, be it with a value that can't be read. */
export function filledTest(field: string): Condition {
  return { test: 'not', of: { test: 'blank', subject: { kind: 'field', field } } };
}

/** The test that a record has stood in its stage long enough; null: no time is asked for. */
export function leastTest({ minDays, minHours }: Pick<Gate, 'minDays' | 'minHours'>): Condition | null {
  if (minDays === 0 && minHours === 0) return null;
  const kind = minDays > 0 ? 'days-in-stage' : 'hours-in-stage';
  return { test: 'range', subject: { kind }, from: { at: String(minDays || minHours), included: true }, to: null };
}

/** The whole condition of a gate: its own, then its required fields, then its time in the stage. */
export function conditionOf({ when, requiredFields, ...time }: Requirements): Condition {
  const least = leastTest(time);
  if (requiredFields.length === 0 && least === null) return when;
  return { test: 'all', of: [when, ...requiredFields.map(filledTest), ...(least === null ? [] : [least])] };
}

/**
 * Under which a record keeps its look of a gate. Another stage, condition, field or time, or another way to decide, makes it another
 * key, so that the look starts as false again; a new name, or another order of gates, does not.
 */
export function lookKey(gate: Pick<Gate, 'key' | 'from' | 'decider'> & Requirements): string {
  const { kind } = gate.decider;
  return `${gate.key} ${fnv1a(JSON.stringify([gate.from, conditionOf(gate), ...(kind === 'rule' ? [] : [kind])]))}`;
}

/** The stages to which a gate leads: its own first, then its alternatives. */
export function endsOf({ to, decider }: Pick<Gate, 'to' | 'decider'>): readonly StageKey[] {
  return decider.kind === 'asks' ? [to, ...decider.alternatives.map((one) => one.to)] : [to];
}

/** The 32-bit hash of Fowler, Noll and Vo, variant 1a, over UTF-16 code units; in hexadecimal digits. */
function fnv1a(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}
