import type { Asks, ImpactQuestionName } from '@relvik/core';

/** What the page sends to the worker. */
export type ToWorker = { readonly id: number } & (
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer; readonly world: unknown }
  | { readonly kind: 'ask'; readonly question: ImpactQuestionName; readonly asks: Asks<ImpactQuestionName> }
);

/** What the worker sends back. */
export type FromWorker = { readonly id: number } & (
  { readonly ok: true; readonly answer: unknown } | { readonly ok: false; readonly why: string }
);
