import type { DeskQuestionName, PopulationState } from '@relvik/contracts';
import type { Answers, Asks, Condition, Pair } from '@relvik/core';

/** The way to an impact desk, wherever it stands. */
export interface DeskLink {
  /** Has the desk read the population as it is now. */
  load(): Promise<PopulationState>;
  ask<Q extends DeskQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>>;
  /** Sees to it that what the population withholds is answered for these charters. */
  prepare(pair: Pair, asked: readonly Condition[]): Promise<void>;
}
