import type { Condition } from '../condition/condition';
import type { StageKey } from '../record/keys';

/** A lifecycle stage. */
export interface Stage {
  readonly key: StageKey;
  readonly name: string;
  /** `out`: who enters is disqualified and no longer open. */
  readonly kind: 'open' | 'out';
}

/** A move between two stages, made by rule when its condition becomes true. */
export interface Gate {
  readonly key: string;
  readonly name: string;
  readonly from: StageKey;
  readonly to: StageKey;
  readonly on: boolean;
  readonly when: Condition;
}
