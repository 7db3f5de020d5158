import type { PopulationAnswer } from '@relvik/contracts';
import type { Asks, FieldTest, ImpactQuestionName } from '@relvik/core';

/** What the page sends to the worker. */
export type ToWorker = { readonly id: number } & (
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer; readonly world: unknown }
  /** What the population withholds, looked up by the server. */
  | { readonly kind: 'give'; readonly answers: readonly PopulationAnswer[] }
  | { readonly kind: 'ask'; readonly question: ImpactQuestionName; readonly asks: Asks<ImpactQuestionName> }
);

/** What the worker sends back; `missing` has to be given before it can answer. */
export type FromWorker = { readonly id: number } & (
  | { readonly said: 'answer'; readonly answer: unknown }
  | { readonly said: 'missing'; readonly tests: readonly FieldTest[] }
  | { readonly said: 'failed'; readonly why: string }
);
