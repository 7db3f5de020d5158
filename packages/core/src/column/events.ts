import type { Instant } from '../record/keys';
import { HOUR } from '../record/hours';
import { type Bits, noBits, setBit } from './bits';

/** The activities of one kind over all records: those of record i are `at[starts[i]]` up to `at[starts[i + 1]]`, newest first. */
export interface Events {
  readonly starts: Uint32Array;
  readonly at: Float64Array;
}

/** Events from the instants of each record, newest first. */
export function eventsFrom(times: readonly (readonly Instant[])[]): Events {
  const starts = new Uint32Array(times.length + 1);
  times.forEach((own, i) => {
    starts[i + 1] = (starts[i] as number) + own.length;
  });
  return { starts, at: Float64Array.from(times.flat()) };
}

/** The same with ages in whole hours at one instant; what comes after the instant is left out. */
export interface AgedEvents {
  /** Records that have any, and the same as bits. */
  readonly records: Uint32Array;
  readonly having: Bits;
  /** The ages of the n-th of these records are `hours[starts[n]]` up to `hours[starts[n + 1]]`, newest first. */
  readonly starts: Uint32Array;
  readonly hours: Uint32Array;
  /** By age: whose it is, and how many newer ones of the same kind its record has. */
  readonly owner: Uint32Array;
  readonly nth: Uint16Array;
  readonly oldest: number;
}

/** Caps by number go up to 10,000: beyond that events need not be told apart. */
const MOST_APART = 65_535;

export function ageEvents({ starts, at }: Events, asOf: Instant): AgedEvents {
  const size = starts.length - 1;
  const records = new Uint32Array(size);
  const having = noBits(size);
  const aged = new Uint32Array(size + 1);
  const hours = new Uint32Array(at.length);
  const owner = new Uint32Array(at.length);
  const nth = new Uint16Array(at.length);
  let kept = 0;
  let count = 0;
  let oldest = 0;
  for (let i = 0; i < size; i += 1) {
    const first = kept;
    const end = starts[i + 1] as number;
    for (let k = starts[i] as number; k < end; k += 1) {
      const age = asOf - (at[k] as number);
      if (age < 0) continue;
      const whole = Math.floor(age / HOUR);
      hours[kept] = whole;
      owner[kept] = i;
      nth[kept] = Math.min(MOST_APART, kept - first);
      kept += 1;
      if (whole > oldest) oldest = whole;
    }
    if (kept === first) continue;
    records[count] = i;
    aged[count] = first;
    setBit(having, i);
    count += 1;
  }
  aged[count] = kept;
  return {
    records: records.slice(0, count),
    having,
    starts: aged.slice(0, count + 1),
    hours: hours.slice(0, kept),
    owner: owner.slice(0, kept),
    nth: nth.slice(0, kept),
    oldest,
  };
}

/** Activities from the youngest to the oldest. */
export interface EventsByAge {
  /** Places in the lists of {@link AgedEvents}. */
  readonly order: Uint32Array;
  /** Those younger than h hours are the first `younger[h]` of the order; h goes one beyond the oldest age. */
  readonly younger: Uint32Array;
}

export function sortByAge({ hours, oldest }: AgedEvents): EventsByAge {
  const younger = new Uint32Array(oldest + 2);
  for (let k = 0; k < hours.length; k += 1)
    younger[(hours[k] as number) + 1] = (younger[(hours[k] as number) + 1] as number) + 1;
  for (let h = 1; h < younger.length; h += 1) younger[h] = (younger[h] as number) + (younger[h - 1] as number);
  const next = younger.slice();
  const order = new Uint32Array(hours.length);
  for (let k = 0; k < hours.length; k += 1) {
    const age = hours[k] as number;
    order[next[age] as number] = k;
    next[age] = (next[age] as number) + 1;
  }
  return { order, younger };
}
