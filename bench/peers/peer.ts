import type { Condition } from '@relvik/core';
import type { PlainFacts } from './plain-facts';

/** A library that judges conditions. */
export interface Peer {
  readonly name: string;
  /** Makes the conditions ready once; then answers them all for many records: one row of yes and no for each. */
  prepare(conditions: readonly Condition[]): (facts: readonly PlainFacts[]) => Promise<boolean[][]>;
}
