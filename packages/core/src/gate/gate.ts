import type { Condition } from '../condition/condition';
import type { StageKey } from '../record/keys';

/** A move between two stages, made by rule when its condition becomes true. */
export interface Gate {
  readonly key: string;
  readonly name: string;
  readonly from: StageKey;
  readonly to: StageKey;
  readonly on: boolean;
  readonly when: Condition;
}

/**
 * Under which a record keeps its look of a gate. Another stage or another condition makes it another key, so that the look
 * starts as false again; a new name, or another order of gates, does not.
 */
export function lookKey({ key, from, when }: Pick<Gate, 'key' | 'from' | 'when'>): string {
  return `${key} ${fnv1a(JSON.stringify([from, when]))}`;
}

/** The 32-bit hash of Fowler, Noll and Vo, variant 1a, over UTF-16 code units; in hexadecimal digits. */
function fnv1a(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}
