import type { PopulationState } from '@relvik/contracts';
import type { Answers, Asks, ImpactQuestionName } from '@relvik/core';

/** The way to an impact desk, wherever it stands. */
export interface DeskLink {
  /** Has the desk read the population as it is now. */
  load(): Promise<PopulationState>;
  ask<Q extends ImpactQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>>;
}
