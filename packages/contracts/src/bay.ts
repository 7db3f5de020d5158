import type { BayReason, Decision, Instant } from '@relvik/core';
import { number, object } from 'yup';

/** A lead that waits in the bay. */
export interface BayLead {
  readonly id: number;
  readonly name: string;
  readonly company: string;
  readonly rank: number | null;
  readonly since: Instant;
}

/** Leads that wait in the bay for the same reason. */
export interface BayGroup {
  readonly reason: BayReason;
  readonly leads: number;
  readonly since: Instant;
  /** Those that have waited longest, in this order. */
  readonly oldest: readonly BayLead[];
  /** Of the oldest: who would be passed over now, and why. */
  readonly skipped: Decision['skipped'];
}

/** The bay, as far as the user sees it. */
export interface Bay {
  readonly groups: readonly BayGroup[];
  /** Operations is told of a lead that has waited so many hours; null: it is not. */
  readonly tellAfter: number | null;
}

export const bayAlarmSchema = object({
  hours: number().integer().min(1, 'must be 1 or more').max(8760).nullable().defined(),
}).exact();
export interface BayAlarm {
  readonly hours: number | null;
}
