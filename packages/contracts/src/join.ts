import type { Instant } from '@relvik/core';
import { array, number, object } from 'yup';
import { keyText } from './text';

/** Joins a record with another of its kind; `take` names the fields in which the value of the younger is taken. */
export const joinSchema = object({
  other: number().integer().min(1).required('Say which one it is joined with'),
  take: array(keyText().required()).max(200).required(),
}).exact();

/** The effect of a join before it is done; `Row` is a record of the kind as lists show it. */
export interface JoinPreview<Row> {
  /** It keeps its id; the id of the other leads to it. */
  readonly older: Row;
  readonly younger: Row;
  readonly fields: readonly {
    readonly field: string;
    /** Null: the older has no value, and takes that of the younger. */
    readonly older: string | null;
    readonly younger: string;
    /** Whether the value of the younger is proposed. */
    readonly takesYounger: boolean;
  }[];
  /** Activities that move. */
  readonly activities: number;
}

/** A record that was joined into another, and until when that can be undone. */
export interface JoinedIn {
  readonly id: number;
  readonly name: string;
  readonly at: Instant;
  readonly undoUntil: Instant;
}
