import type { StageKey } from '../record/keys';

/** A deal that a gate makes of the leads that it moves. */
export interface DealRule {
  /** The stage of deals in which it begins. */
  readonly stage: StageKey;
  /** Days until it is expected to close. */
  readonly days: number;
  /** Whether the usual cycle counts in place of these days, once enough deals were won to tell it. */
  readonly measured: boolean;
}

/** A deal as a decision makes it. */
export interface MadeDeal extends DealRule {
  /** The key of the gate. */
  readonly rule: string;
}
