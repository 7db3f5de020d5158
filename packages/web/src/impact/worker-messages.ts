import type { Found, ImpactQuestionName, Lookup } from '@relvik/core';

/** The pair of a question, by the numbers under which its charters were sent. */
export interface SentPair {
  readonly inForce: number;
  readonly draft: number;
}

/** A charter, as the difference from one that the worker holds. */
export interface SentCharter {
  readonly number: number;
  /** The number of that charter; null: the whole charter is sent. */
  readonly from: number | null;
  /** A delta as JSON: a browser copies a long text faster than a deep object. */
  readonly delta: string;
}

/** What the page sends to the worker. */
export type ToWorker = { readonly id: number } & (
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer; readonly world: unknown }
  /** What the population withholds, looked up by the server. */
  | { readonly kind: 'give'; readonly found: readonly Found[] }
  | {
      readonly kind: 'ask';
      readonly question: ImpactQuestionName;
      /** All but the pair. */
      readonly asks: object;
      /** Null: the question is about no charters. */
      readonly pair: SentPair | null;
      /** Charters of the pair that the worker does not hold yet. */
      readonly charters: readonly SentCharter[];
    }
);

/** What the worker sends back; `missing` has to be given before it can answer. */
export type FromWorker = { readonly id: number } & (
  | { readonly said: 'answer'; readonly answer: unknown }
  | { readonly said: 'missing'; readonly lookups: readonly Lookup[] }
  | { readonly said: 'failed'; readonly why: string }
);
