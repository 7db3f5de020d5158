import type { ActivityKind, Instant } from '@relvik/core';
import { array, boolean, type InferType, mixed, number, object, string } from 'yup';
import { keyText, trimmed } from './text';

const KEY = /^[a-z][a-z0-9_]*$/;
const WRITTEN_KEY = 'must be a key: a small letter, then small letters, digits or _, at most 48';
/** Activities in one request, or in one file. */
export const ACTIVITIES_AT_ONCE = 1000;
export const ACTIVITY_ROWS = 50_000;
export const PROPERTIES = 10;
/** The longest id of an event. */
export const EVENT_LENGTH = 120;

/** Texts by property: at most ten, each with a key. */
const properties = mixed<Record<string, string>>((value): value is Record<string, string> => {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
  const entries = Object.entries(value as Record<string, unknown>);
  return (
    entries.length <= PROPERTIES &&
    entries.every(([key, text]) => KEY.test(key) && key.length <= 48 && typeof text === 'string' && text.length <= 500)
  );
}).typeError(`must be texts by key, at most ${PROPERTIES}, each of at most 500 characters`);

const happened = {
  kind: keyText().required('Say what kind of activity'),
  /** ISO 8601 with an offset; missing: now. */
  at: string().max(40),
  properties,
};

/** Activities from another system. Whose each is, is said by the lead’s id or by an e-mail. */
export const activitiesSchema = object({
  activities: array(
    object({
      ...happened,
      /** The sender's own id: the same one again counts once. */
      event: string().min(1).max(EVENT_LENGTH),
      lead: number().integer().min(1),
      email: string().max(320),
    })
      .exact()
      .required(),
  )
    .min(1)
    .max(ACTIVITIES_AT_ONCE)
    .required(),
}).exact();
export interface SentActivity {
  readonly kind: string;
  readonly at?: string;
  readonly event?: string;
  readonly lead?: number;
  readonly email?: string;
  readonly properties?: Readonly<Record<string, string>>;
}
export interface SentActivities {
  readonly activities: readonly SentActivity[];
}

/** What became of activities that were sent. */
export interface ActivityOutcome {
  readonly accepted: number;
  /** Known already by their event's id: they count once. */
  readonly repeated: number;
  /** By place in what was sent, or row of the file, from 1. */
  readonly refused: readonly { readonly row: number; readonly field: string; readonly message: string }[];
}

/** An activity noted by hand on a lead. */
export const noteActivitySchema = object(happened).exact();
export type NoteActivity = Pick<SentActivity, 'kind' | 'at' | 'properties'>;

export const newKindSchema = object({
  key: string().required('Give it a key').max(48).matches(KEY, WRITTEN_KEY),
  name: trimmed().required('Give it a name').max(120),
  by: string().oneOf(['them', 'us']).required(),
}).exact();
export type NewKind = Pick<ActivityKind, 'key' | 'name' | 'by'>;

export const changeKindSchema = object({
  name: trimmed().required('Give it a name').max(120),
  retired: boolean().required(),
}).exact();
export type ChangeKind = InferType<typeof changeKindSchema>;

/** A kind of activity, and how often it happened. */
export interface KindRow extends ActivityKind {
  readonly standard: boolean;
  readonly count: number;
}

/** How a lead's scores went, and where they go if nothing happens. */
export interface Curve {
  readonly now: Instant;
  readonly points: readonly { readonly at: Instant; readonly fit: number | null; readonly engagement: number | null }[];
}
