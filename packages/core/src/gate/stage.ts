import type { StageKey } from '../record/keys';

/** `out`: who enters is disqualified. Whoever enters any but an open one is closed. */
export const STAGE_KINDS = ['open', 'won', 'lost', 'out'] as const;
export type StageKind = (typeof STAGE_KINDS)[number];

/** A stage of a pipeline. */
export interface Stage {
  readonly key: StageKey;
  readonly name: string;
  readonly kind: StageKind;
}
