import type { Instant, RecordKind } from '@relvik/core';
import { number, object } from 'yup';
import { keyText } from './text';

/** Something that a fault left behind. */
export interface DoctorFinding {
  readonly check: string;
  /** What is wrong, completing "12 …". */
  readonly what: string;
  readonly count: number;
  /** A few of them: ids of records, or keys of people. */
  readonly some: readonly string[];
  readonly mended: boolean;
}

export interface DoctorReport {
  readonly at: Instant;
  readonly findings: readonly DoctorFinding[];
}

/** An outbox row that keeps failing. */
export interface ParkedRow {
  readonly id: number;
  readonly notice: string;
  /** A person or queue by its key; null: the admins. */
  readonly to: string | null;
  readonly lead: number | null;
  readonly at: Instant;
  readonly tries: number;
  readonly error: string;
}

/** Background work that fails: on one record, or as a whole. */
export interface FailureRow {
  readonly work: string;
  readonly record: number | null;
  readonly tries: number;
  readonly error: string;
  readonly since: Instant;
  /** Null: it is parked, and not tried again by itself. */
  readonly nextAt: Instant | null;
}

export interface BackgroundState {
  readonly outbox: {
    readonly waiting: number;
    readonly oldest: Instant | null;
    readonly parked: readonly ParkedRow[];
  };
  /** How many records of each kind are to be looked at: leads since their contact or company changed, others to be scored. */
  readonly due: Readonly<Record<RecordKind, number>>;
  readonly failures: readonly FailureRow[];
  /** Null: it has not looked yet. */
  readonly doctor: DoctorReport | null;
}

export const tryAgainSchema = object({
  work: keyText().required(),
  record: number().integer().min(0).required(),
}).exact();
