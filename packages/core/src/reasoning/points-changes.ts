import type { Score } from '../score/score-by-sets';
import type { Axis } from '../signal/signal';
import { signed } from '../wording/signal-words';
import type { Names } from '../wording/names';

/** A signal that gives other points than it did. */
export interface PointsChange {
  readonly signal: string;
  readonly axis: Axis;
  /** How many more, in points; negative: fewer. */
  readonly by: number;
}

/** Differences that would read as 0 are left out. */
const SHOWN = 0.005;

/**
 * What signals give more or less than before, the largest difference first. What can't be judged gives nothing.
 *
 * @returns none where the record was not scored before, or by another set
 */
export function pointsChanges(before: Score | null, after: Score): PointsChange[] {
  if (before === null || before.set !== after.set) return [];
  const was = new Map(before.signals.map(({ signal, points }) => [signal, points]));
  const changes = after.signals.map(({ signal, axis, points }) => ({
    signal,
    axis,
    by: points - (was.get(signal) ?? 0),
  }));
  const kept = new Set(after.signals.map(({ signal }) => signal));
  const gone = before.signals.filter(({ signal }) => !kept.has(signal));
  return [...changes, ...gone.map(({ signal, axis, points }) => ({ signal, axis, by: -points }))]
    .filter(({ by }) => Math.abs(by) >= SHOWN)
    .sort((a, b) => Math.abs(b.by) - Math.abs(a.by) || (a.signal < b.signal ? -1 : 1));
}

/** So many are told; the rest are counted. */
const TOLD = 3;

/** "+8 Mail clicked, −5 Silence and 2 more"; empty without any. */
export function pointsChangesWords(changes: readonly PointsChange[], names: Names): string {
  const told = changes.slice(0, TOLD).map(({ signal, by }) => `${signed(by)} ${names.signal(signal)}`);
  const more = changes.length - told.length;
  return told.join(', ') + (more > 0 ? ` and ${more} more` : '');
}
