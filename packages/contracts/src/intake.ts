import {
  type Field,
  type Handling,
  HANDLINGS,
  type Instant,
  type Raw,
  RECORD_KINDS,
  type RecordKind,
} from '@relvik/core';
import { array, boolean, type InferType, object, string } from 'yup';
import { rawValues } from './raw-values';
import { keyText, trimmed } from './text';

export const newKeySchema = object({
  name: trimmed().required('Say what the key is for').max(80),
  fields: array(keyText().required()).min(1, 'Choose at least one field').max(200).required(),
  trusted: boolean().default(true),
}).exact();
export interface NewKey {
  readonly name: string;
  readonly fields: readonly string[];
  /** Trusted: its values replace those of an open lead; else they fill blanks only. */
  readonly trusted?: boolean;
}

/** Settings of a form or key; what is missing stays. */
export const wayInSchema = object({
  /** Whether what it says replaces what is known. */
  trusted: boolean(),
  /** The pipeline into which its leads come; null: the first. */
  pipeline: keyText().nullable(),
  /** How far rules are asked of its leads. */
  handling: string<Handling>().oneOf(HANDLINGS),
})
  .exact()
  .test('some', 'Say what is to change', (settings) => Object.keys(settings).length > 0);
export type WayInSettings = InferType<typeof wayInSchema>;

/** The setting of leads that are typed in or edited by hand. */
export const byHandSchema = object({ handling: string<Handling>().oneOf(HANDLINGS).required() }).exact();

export interface KeyRow {
  readonly id: number;
  readonly name: string;
  /** How the key begins, to tell it from others. */
  readonly begins: string;
  readonly fields: readonly string[];
  readonly createdAt: Instant;
  readonly lastUsedAt: Instant | null;
  readonly revoked: boolean;
  readonly trusted: boolean;
  /** The pipeline into which its leads come; null: the first. */
  readonly pipeline: string | null;
  /** How far rules are asked of its leads. */
  readonly handling: Handling;
}

/** The key itself: shown this once. */
export interface MadeKey extends KeyRow {
  readonly secret: string;
}

export interface FormRow {
  readonly slug: string;
  readonly title: string;
  readonly fields: readonly string[];
  readonly received: number;
  readonly trusted: boolean;
  readonly pipeline: string | null;
  readonly handling: Handling;
}

export interface IntakeState {
  readonly forms: readonly FormRow[];
  readonly keys: readonly KeyRow[];
  readonly ways: readonly { readonly way: string; readonly leads: number; readonly lastWeek: number }[];
}

/** A form as a visitor gets it, with a token that is good for sending it once. */
export interface PublicForm {
  readonly slug: string;
  readonly title: string;
  readonly intro: string;
  readonly thanks: string;
  readonly fields: readonly (Pick<Field, 'key' | 'name' | 'type' | 'options' | 'ownRegions'> & {
    readonly required: boolean;
  })[];
  readonly token: string;
}

/** What a visitor sends. `website` is a field that people do not see: whoever fills it is not one. */
export interface SentForm {
  readonly token: string;
  readonly values: Readonly<Record<string, Raw>>;
  readonly website?: string;
  /** Send although a value can't be read: the visitor was asked again. */
  readonly anyway?: boolean;
}

export const sentFormSchema = object({
  token: string().required().max(300),
  values: rawValues,
  website: string().max(200),
  anyway: boolean(),
}).exact();

/** A contact, company or deal from another system; a company is named by its name, a contact by its e-mail. */
export const intakeRecordSchema = object({
  values: rawValues,
  company: trimmed().max(200),
  contact: trimmed().max(320),
  stage: trimmed().max(120),
}).exact();

/** The answer to a contact, company or deal that was sent. */
export interface AcceptedRecord {
  readonly id: number;
  /** True where it was known already. */
  readonly known: boolean;
  readonly warnings: readonly { readonly field: string; readonly raw: string; readonly why: string }[];
}

/** Rows in one file. */
export const CSV_ROWS = 50_000;

/** A file of records of one kind that is taken in, by the counts of its rows. */
export interface ImportState {
  readonly id: number;
  readonly kind: RecordKind;
  readonly name: string;
  /** How far rules were asked of its leads. */
  readonly handling: Handling;
  readonly state: 'running' | 'done' | 'undoing' | 'undone';
  readonly by: string;
  readonly at: Instant;
  readonly endedAt: Instant | null;
  readonly rows: number;
  readonly waiting: number;
  /** Those that came or joined known records. */
  readonly accepted: number;
  readonly joined: number;
  readonly refused: number;
  /** After an undo: taken back, and left since someone had worked on them. */
  readonly undone: number;
  readonly kept: number;
  /** The same file came before: this is what became of it, and nothing was done. */
  readonly again: boolean;
}

export interface ImportReport extends ImportState {
  /** Notes on rows: the reason for a refusal, or a value that can't be read. The first 500. */
  readonly notes: readonly {
    readonly row: number;
    readonly field: string;
    readonly message: string;
    readonly refused: boolean;
    readonly record: number | null;
  }[];
  /** Records that were worked on since, so that the import can't be undone. */
  readonly workedOn: readonly number[];
}

export const importQuerySchema = object({
  name: string().max(200).default('file.csv'),
  /** The kind of its records. */
  kind: string<RecordKind>().oneOf(RECORD_KINDS).default('lead'),
  /** How far rules are asked of its leads. */
  handling: string<Handling>().oneOf(HANDLINGS).default('decide'),
}).exact();
