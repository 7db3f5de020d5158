import { type InferType, object, string } from 'yup';

/** A value that can't be judged, and how many leads have it. */
export interface UnjudgedRow {
  readonly field: string;
  readonly raw: string;
  readonly why: string;
  readonly leads: number;
  /** Of these, how many are open, and how many wait in the bay. */
  readonly open: number;
  readonly inBay: number;
  /** A few of them. */
  readonly some: readonly { readonly id: number; readonly name: string }[];
}

/** Puts one value in the place of another wherever it stands. */
export const correctSchema = object({
  field: string().required().max(48),
  raw: string().defined().max(2000),
  value: string().defined().max(2000),
}).exact();
export type Correct = InferType<typeof correctSchema>;

export interface Corrected {
  readonly corrected: number;
  readonly rows: readonly UnjudgedRow[];
}
