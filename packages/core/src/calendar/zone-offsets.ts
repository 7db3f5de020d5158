import { IANAZone } from 'luxon';
import { keepingAnswers } from '../record/kept-answers';
import type { Instant } from '../record/keys';

const DAY = 86_400_000;
const MINUTE = 60_000;

/** A stretch `[from, to)` in which a zone keeps one offset. */
export interface OffsetPiece {
  readonly from: Instant;
  readonly to: Instant;
  /** Milliseconds to add to an instant to read the local clock. */
  readonly offset: number;
}

/**
 * The offsets of a time zone over a stretch of time, in order, without gaps.
 *
 * Offsets are compared a day apart, and a change is then searched to the minute. Two changes within a day that cancel out would be missed; no
 * zone has had such since 1970.
 *
 * @param from inclusive
 * @param to exclusive
 */
export function offsetPieces(zone: string, from: Instant, to: Instant): readonly OffsetPiece[] {
  return keptPieces(zone, from, to);
}

/** People of one zone share its offsets. */
const keptPieces = keepingAnswers((zone: string, from: Instant, to: Instant): readonly OffsetPiece[] => {
  const clock = IANAZone.create(zone);
  const offsetAt = (at: Instant): number => clock.offset(at) * MINUTE;
  const pieces: OffsetPiece[] = [];
  let [start, offset] = [from, offsetAt(from)];
  for (let at = from; at < to; at += DAY) {
    const next = Math.min(at + DAY, to);
    const after = offsetAt(next);
    if (after === offset) continue;
    const change = changeBetween(offsetAt, at, next);
    if (change > start) pieces.push({ from: start, to: Math.min(change, to), offset });
    [start, offset] = [change, after];
  }
  if (start < to) pieces.push({ from: start, to, offset });
  return pieces;
});

/** The first whole minute in `(from, to]` at which the offset is no longer that at `from`. */
function changeBetween(offsetAt: (at: Instant) => number, from: Instant, to: Instant): Instant {
  const before = offsetAt(from);
  let [low, high] = [Math.floor(from / MINUTE), Math.ceil(to / MINUTE)];
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (offsetAt(middle * MINUTE) === before) low = middle;
    else high = middle;
  }
  return high * MINUTE;
}
