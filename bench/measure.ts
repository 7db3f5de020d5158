/** A figure of the bench: what it is held against, and what was seen. */
export interface Figure {
  readonly id: string;
  readonly what: string;
  readonly goal: string;
  readonly reached: boolean;
  readonly median: string;
  readonly range: string;
}

export const ROUNDS = 9;

/** How long something takes, in milliseconds. */
export function timeOf(work: () => unknown): number {
  const began = process.hrtime.bigint();
  work();
  return Number(process.hrtime.bigint() - began) / 1e6;
}

/** Collects what nobody holds any more, so that one measurement does not pay for the one before. */
export function letGo(): void {
  (globalThis as { gc?: () => void }).gc?.();
}

export function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}

/**
 * Runs two works by turns and compares them round by round: machines are noisy, and a ratio within a round is not.
 *
 * @returns for each round, how many times longer the first took
 */
export function ratios(slow: () => number, fast: () => number, rounds = ROUNDS): number[] {
  return Array.from({ length: rounds }, () => {
    letGo();
    const long = slow();
    letGo();
    return long / fast();
  });
}

const shown = (n: number): string => (n >= 100 ? Math.round(n).toLocaleString('en') : n.toPrecision(3));

/** A figure whose goal is a ratio of at least so much. */
export function atLeast(id: string, what: string, goal: number, seen: readonly number[]): Figure {
  const middle = median(seen);
  return {
    id,
    what,
    goal: `≥ ${goal}x`,
    reached: middle >= goal,
    median: `${shown(middle)}x`,
    range: `${shown(Math.min(...seen))}–${shown(Math.max(...seen))}x`,
  };
}

/** A figure whose goal is at most so much of a unit. */
export function atMost(id: string, what: string, goal: number, unit: string, seen: readonly number[]): Figure {
  const middle = median(seen);
  return {
    id,
    what,
    goal: `≤ ${goal} ${unit}`,
    reached: middle <= goal,
    median: `${shown(middle)} ${unit}`,
    range: `${shown(Math.min(...seen))}–${shown(Math.max(...seen))} ${unit}`,
  };
}

/** The 95th percentile of some times. */
export function percentile95(list: readonly number[]): number {
  return [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? NaN;
}
