import { currencyDecimals, type Day, isDay, parseScaled, type RecordKind } from '@relvik/core';
import { type InferType, object, string } from 'yup';
import type { SaidValue } from './lead';
import { keyText, trimmed } from './text';

/** A value that can't be judged, and how many leads, or records of another kind, have it. */
export interface UnjudgedRow {
  readonly field: string;
  readonly kind: RecordKind;
  /** What came; for amounts without a rate their currency. */
  readonly raw: string;
  /** For amounts without a rate: the earliest day on which one was entered. */
  readonly rateFrom: Day | null;
  /** The likely meaning: an option, a country or a region by its code; null: none is near enough. */
  readonly likely: string | null;
  /** Of a region: the country of the newest record, alpha-2; null: not known, or of no region. */
  readonly country: string | null;
  /** Whether it may be taken for something on a list from now on. */
  readonly listed: boolean;
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
  field: keyText().required(),
  raw: string().defined().max(2000),
  value: string().defined().max(2000),
}).exact();
export type Correct = InferType<typeof correctSchema>;

export interface Corrected {
  readonly corrected: number;
  readonly rows: readonly UnjudgedRow[];
}

const currency = () =>
  keyText()
    .required()
    .test('known', 'is no currency in use', (code) => currencyDecimals(code) !== undefined);
const from = () =>
  keyText()
    .required('Say from which day on')
    .test('day', 'is not a day written YYYY-MM-DD', (day) => isDay(day));
const rate = () =>
  trimmed()
    .required('Say what one unit is worth')
    .test('rate', 'must be a number above 0 with at most six decimals', (text) => {
      const micro = parseScaled(text, 6);
      return micro.ok && micro.scaled > 0;
    });

/** Value of one unit of a currency in the reference currency, from a day on. Outside the charter, effective at once. */
export const newRateSchema = object({ currency: currency(), from: from(), rate: rate() }).exact();
export type NewRate = InferType<typeof newRateSchema>;

/** Which rate is put right. */
export const ratePlaceSchema = object({ currency: currency(), from: from() });
export const correctRateSchema = object({ rate: rate() }).exact();

export interface RateList {
  /** The currency in which rates are given. */
  readonly reference: string;
  /** By currency, then by day. */
  readonly rates: readonly NewRate[];
}

export interface RateGiven {
  /** Number of open leads with amounts that it converts: they are decided again in the background. */
  readonly due: number;
  readonly rates: RateList;
  readonly rows: readonly UnjudgedRow[];
}

/** Values sent for an open lead but not taken, the newest first. */
export interface SaidRow extends SaidValue {
  readonly lead: number;
  readonly name: string;
  /** As it is known. */
  readonly known: string;
}
