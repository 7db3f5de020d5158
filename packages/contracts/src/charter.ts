import type { Charter, Field, Instant, NameLists, Problem } from '@relvik/core';
import { mixed, number, object, string } from 'yup';

export const newDraftSchema = object({ name: string().trim().required('Give the draft a name').max(120) }).exact();
export interface NewDraft {
  readonly name: string;
}

/** The whole charter is sent; `version` is the one that was read, so that nobody's save is overwritten silently. */
export const saveDraftSchema = object({
  version: number().integer().required(),
  charter: mixed<object>((value): value is object => typeof value === 'object').required(),
}).exact();
export interface SaveDraft {
  readonly version: number;
  readonly charter: Charter;
}

export const enactSchema = object({
  version: number().integer().required(),
  reason: string().trim().required('Say why this comes into force').max(500),
}).exact();
export interface Enact {
  readonly version: number;
  readonly reason: string;
}

export interface CharterInForce {
  readonly id: number;
  readonly number: number;
  readonly enactedAt: Instant;
  readonly charter: Charter;
}

export interface Draft {
  readonly id: number;
  readonly version: number;
  /** The number of the charter it was copied from. */
  readonly base: number;
  /** Another charter has come into force since. */
  readonly stale: boolean;
  readonly author: string;
  readonly changedAt: Instant;
  readonly charter: Charter;
  /** What keeps it from being enacted. */
  readonly problems: readonly Problem[];
}

export interface CharterState {
  readonly inForce: CharterInForce;
  readonly draft: Draft | null;
}

/** A rescore after enact. */
export interface Job {
  readonly id: number;
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly charter: number;
  readonly done: number;
  readonly total: number;
  readonly changed: number;
  readonly startedAt: Instant;
  readonly endedAt: Instant | null;
}

/** What a lead's page needs to put reasoning into words: names, and no rules. */
export interface WordingDocument {
  readonly names: NameLists;
  readonly fields: readonly Field[];
  readonly baseCurrency: string;
  readonly timeZone: string;
  readonly engagementBands: number;
}
