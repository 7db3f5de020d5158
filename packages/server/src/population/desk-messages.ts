import type { DeskAnswer, DeskQuestion, PopulationState, ProblemDocument } from '@relvik/contracts';
import type { ScoredKind } from '@relvik/core';
import type { Access } from '../store/open-database';

/** What the thread of the desk is begun with. */
export interface DeskThreadData {
  readonly access: Access;
  readonly of: ScoredKind;
}

export type ToDeskThread = { readonly id: number } & (
  { readonly kind: 'load' } | { readonly kind: 'ask'; readonly question: DeskQuestion }
);

export type FromDeskThread = { readonly id: number } & (
  | { readonly ok: true; readonly answer: PopulationState | DeskAnswer }
  /** A problem is the asker's; words alone are ours. */
  | { readonly ok: false; readonly problem: ProblemDocument | null; readonly why: string }
);
