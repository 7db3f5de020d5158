import type { Condition } from '../condition/condition';
import type { StageKey } from '../record/keys';

/** A move between two stages, made by rule when all that it asks for becomes true. */
export interface Gate {
  readonly key: string;
  readonly name: string;
  readonly from: StageKey;
  readonly to: StageKey;
  readonly on: boolean;
  readonly when: Condition;
  /** Fields that must be filled, by key: of the record, or of its contact or company. */
  readonly filled: readonly string[];
  /** Whole days that the record must have stood in `from`, by the charter's calendar; 0: none. */
  readonly least: number;
}

type Asking = Pick<Gate, 'when' | 'filled' | 'least'>;

/** That a field is filled; what stands there need not be readable. */
export function filledTest(field: string): Condition {
  return { test: 'not', of: { test: 'blank', subject: { kind: 'field', field } } };
}

/** That the record has stood in its stage for so many whole days. */
export function leastTest(days: number): Condition {
  return { test: 'range', subject: { kind: 'days-in-stage' }, from: { at: String(days), included: true }, to: null };
}

/** All that a gate asks for as one condition: its own, then the fields, then the time. */
export function conditionOf({ when, filled, least }: Asking): Condition {
  if (filled.length === 0 && least === 0) return when;
  return { test: 'all', of: [when, ...filled.map(filledTest), ...(least === 0 ? [] : [leastTest(least)])] };
}

/**
 * Under which a record keeps its look of a gate. Another stage, condition, field or time makes it another key, so that the look
 * starts as false again; a new name, or another order of gates, does not.
 */
export function lookKey(gate: Pick<Gate, 'key' | 'from'> & Asking): string {
  return `${gate.key} ${fnv1a(JSON.stringify([gate.from, conditionOf(gate)]))}`;
}

/** The 32-bit hash of Fowler, Noll and Vo, variant 1a, over UTF-16 code units; in hexadecimal digits. */
function fnv1a(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}
