import type { Answer, Grade, Instant, Score } from '@relvik/core';
import { type InferType, number, object, string } from 'yup';
import type { LeadRow, SetScoreCell } from './lead-list';
import { keyText } from './text';

export const companyQuerySchema = object({
  find: string().max(120),
  /** The score set whose scores rank the list, which holds whom it scores; none: the set that grades each company. */
  set: keyText(),
  /** Where the last page ended; opaque. */
  after: string().max(200),
  size: number().integer().min(1).max(100).default(50),
}).exact();
export type CompanyQuery = Partial<InferType<typeof companyQuerySchema>>;

/** A company as a list shows it. */
export interface CompanyRow {
  readonly id: number;
  readonly name: string;
  /** Its leads in sight, open and closed. */
  readonly leads: number;
  readonly admitted: Answer;
  readonly scoreSet: string | null;
  readonly fit: number | null;
  readonly engagement: number | null;
  readonly rank: number | null;
  readonly fitBand: number | null;
  readonly engagementBand: number | null;
  readonly grade: string | null;
  /** What the other sets give that admit it. */
  readonly beside: Readonly<Record<string, SetScoreCell>>;
}

export interface CompanyPage {
  readonly rows: readonly CompanyRow[];
  /** The scores of the list are right as of this instant. */
  readonly asOf: Instant;
  /** Null on the last page. */
  readonly next: string | null;
}

export interface CompanyDetail extends CompanyRow {
  readonly values: readonly { readonly field: string; readonly shown: string; readonly unreadable: string | null }[];
  /** As the charter in force scores it at this moment. */
  readonly score: Score;
  readonly gradedNow: Grade | null;
  readonly asOf: Instant;
  readonly ofLeads: readonly Omit<LeadRow, 'values' | 'scores'>[];
}
