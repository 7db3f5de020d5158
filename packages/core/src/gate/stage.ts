import type { StageKey } from '../record/keys';
import type { Status } from '../record/record';

/** `out`: who enters is disqualified. Whoever enters any but an open one is closed. */
export const STAGE_KINDS = ['open', 'won', 'lost', 'out'] as const;
export type StageKind = (typeof STAGE_KINDS)[number];

/** A stage of a pipeline. */
export interface Stage {
  readonly key: StageKey;
  readonly name: string;
  readonly kind: StageKind;
  /** Whether it lies beside the path: a side branch, in which records rest or are kept warm. */
  readonly beside: boolean;
  /** Stages to which a hand may move a record from here; null: every open one of its pipeline, and of deals every one. */
  readonly byHand: readonly StageKey[] | null;
  /** Keys of stages that were merged into it: whatever stands in one of them stands here. */
  readonly mergedFrom: readonly StageKey[];
}

/** The status of a record that enters a stage. */
export function statusIn({ kind }: Pick<Stage, 'kind'>): Status {
  return kind === 'out' ? 'disqualified' : kind;
}
