import type { Condition } from '../condition/condition';
import type { StageKey } from '../record/keys';

/** A move between two stages, made by rule when its condition, required fields and time become true together. */
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
}

type Requirements = Pick<Gate, 'when' | 'requiredFields' | 'minDays'>;

/** The test that a field is filled, be it with a value that can't be read. */
export function filledTest(field: string): Condition {
  return { test: 'not', of: { test: 'blank', subject: { kind: 'field', field } } };
}

/** The test that a record has stood in its stage for a number of whole days. */
export function leastTest(days: number): Condition {
  return { test: 'range', subject: { kind: 'days-in-stage' }, from: { at: String(days), included: true }, to: null };
}

/** The whole condition of a gate: its own, then its required fields, then its time in the stage. */
export function conditionOf({ when, requiredFields, minDays }: Requirements): Condition {
  if (requiredFields.length === 0 && minDays === 0) return when;
  return { test: 'all', of: [when, ...requiredFields.map(filledTest), ...(minDays === 0 ? [] : [leastTest(minDays)])] };
}

/**
 * Under which a record keeps its look of a gate. Another stage, condition, field or time makes it another key, so that the look
 * starts as false again; a new name, or another order of gates, does not.
 */
export function lookKey(gate: Pick<Gate, 'key' | 'from'> & Requirements): string {
  return `${gate.key} ${fnv1a(JSON.stringify([gate.from, conditionOf(gate)]))}`;
}

/** The 32-bit hash of Fowler, Noll and Vo, variant 1a, over UTF-16 code units; in hexadecimal digits. */
function fnv1a(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}
