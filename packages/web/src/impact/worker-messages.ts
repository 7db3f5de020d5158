import type { Asks, Found, ImpactQuestionName, Lookup } from '@relvik/core';

/** What the page sends to the worker. */
export type ToWorker = { readonly id: number } & (
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer; readonly world: unknown }
  /** What the population withholds, looked up by the server. */
  | { readonly kind: 'give'; readonly found: readonly Found[] }
  | { readonly kind: 'ask'; readonly question: ImpactQuestionName; readonly asks: Asks<ImpactQuestionName> }
);

/** What the worker sends back; `missing` has to be given before it can answer. */
export type FromWorker = { readonly id: number } & (
  | { readonly said: 'answer'; readonly answer: unknown }
  | { readonly said: 'missing'; readonly lookups: readonly Lookup[] }
  | { readonly said: 'failed'; readonly why: string }
);
