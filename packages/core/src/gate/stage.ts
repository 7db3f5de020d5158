import type { StageKey } from '../record/keys';

/** A lifecycle stage. */
export interface Stage {
  readonly key: StageKey;
  readonly name: string;
  /** `out`: who enters is disqualified and no longer open. */
  readonly kind: 'open' | 'out';
}
