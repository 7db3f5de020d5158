import { HOURS_A_DAY } from '../record/hours';
import { type Micro, roundHalfAway } from './points';

/** How points for an activity shrink with its age. */
export type Fade =
  /** Halved after so many days, and again after as many. */
  | { readonly kind: 'half-life'; readonly days: number }
  /** Evenly down to nothing at so many days. */
  | { readonly kind: 'end'; readonly days: number };

/** Longer than this, in days, is refused. */
export const LONGEST_FADE = 3650;

const BITS = 192n;
const ONE = 1n << BITS;
const DOUBLE_BITS = 60n;

/** ln 2 = Σ 1 / (k·2^k), in units of 2^−192. */
function naturalLogOfTwo(): bigint {
  let sum = 0n;
  for (let k = 1n; ; k += 1n) {
    const term = (ONE >> k) / k;
    if (term === 0n) return sum;
    sum += term;
  }
}

/** e^−x = Σ (−x)^k / k!, in units of 2^−192, for x below one. */
function expOfMinus(x: bigint): bigint {
  let sum = ONE;
  let term = ONE;
  for (let k = 1n; ; k += 1n) {
    term = -((term * x) >> BITS) / k;
    if (term === 0n) return sum;
    sum += term;
  }
}

const halving = new Map<number, Float64Array>();

/**
 * 2^(−i/hours) for i = 0 … hours − 1.
 *
 * Computed with whole numbers, since `Math.pow` may differ from engine to engine; each entry is then the nearest double.
 */
function halvingTable(hours: number): Float64Array {
  const known = halving.get(hours);
  if (known !== undefined) return known;
  const ratio = expOfMinus(naturalLogOfTwo() / BigInt(hours));
  const table = new Float64Array(hours);
  let power = ONE;
  for (let i = 0; i < hours; i += 1) {
    table[i] = Number(power >> (BITS - DOUBLE_BITS)) / 2 ** Number(DOUBLE_BITS);
    power = (power * ratio) >> BITS;
  }
  halving.set(hours, table);
  return table;
}

/**
 * The share of its points that an activity still has.
 *
 * @param hours its age in whole hours, 0 or more
 * @returns 1 at age 0, never below 0; the same bits on every engine
 *
 * @example fadeShare({ kind: 'half-life', days: 30 }, 30 * 24) // 0.5
 * @example fadeShare({ kind: 'end', days: 10 }, 5 * 24) // 0.5
 */
export function fadeShare(fade: Fade, hours: number): number {
  const span = fade.days * HOURS_A_DAY;
  switch (fade.kind) {
    case 'half-life':
      // Dividing by a power of two is exact.
      return (halvingTable(span)[hours % span] ?? 0) / 2 ** Math.min(1000, Math.floor(hours / span));
    case 'end':
      return hours >= span ? 0 : (span - hours) / span;
  }
}

/**
 * What is left of an activity's points at each age in whole hours from 0 on, in millionths: `faded` for many ages at once.
 */
export function fadedByAge(points: Micro, fade: Fade | null, ages: number): Float64Array {
  const left = new Float64Array(ages);
  if (fade === null) return left.fill(points);
  const span = fade.days * HOURS_A_DAY;
  if (fade.kind === 'end') {
    for (let age = 0; age < Math.min(ages, span); age += 1) left[age] = roundHalfAway(points * ((span - age) / span));
    return left;
  }
  const table = halvingTable(span);
  let halved = 1;
  for (let from = 0; from < ages; from += span) {
    const to = Math.min(span, ages - from);
    for (let i = 0; i < to; i += 1) left[from + i] = roundHalfAway((points * (table[i] as number)) / halved);
    halved *= 2;
  }
  return left;
}

/**
 * What is left of an activity's points: round half away(points × share at its age), in millionths.
 *
 * @param fade null: nothing is lost
 */
export function faded(points: Micro, fade: Fade | null, hours: number): Micro {
  return fade === null ? points : roundHalfAway(points * fadeShare(fade, hours));
}
