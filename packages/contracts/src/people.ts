import { boolean, number, object } from 'yup';
import type { Role } from './session';
import { trimmed } from './text';

export const changeRepSchema = object({
  mayTakeLeads: boolean().required(),
  /** Null: no limit. */
  limit: number().integer().min(0, 'must be 0 or more').max(100_000).nullable().defined(),
  whyNot: trimmed().max(200).nullable().defined(),
}).exact();
export interface ChangeRep {
  readonly mayTakeLeads: boolean;
  readonly limit: number | null;
  readonly whyNot: string | null;
}

export interface PersonRow {
  readonly key: string;
  readonly name: string;
  readonly role: Role;
  readonly mayTakeLeads: boolean;
  readonly whyNot: string | null;
  readonly limit: number | null;
  readonly open: number;
  readonly teams: readonly string[];
}

export interface TeamRow {
  readonly key: string;
  readonly name: string;
  readonly leaders: readonly string[];
  readonly members: readonly string[];
  readonly open: number;
}

export interface QueueRow {
  readonly key: string;
  readonly name: string;
  readonly members: readonly string[];
  readonly waiting: number;
}

/** People, as far as the user sees them. */
export interface People {
  readonly people: readonly PersonRow[];
  readonly teams: readonly TeamRow[];
  readonly queues: readonly QueueRow[];
}
