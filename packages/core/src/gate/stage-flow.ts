import type { Pipeline } from './pipeline';

/** How many records moved from one stage to another in some time. */
export interface StageMoves {
  /** By which gate; null: by hand. */
  readonly gate: string | null;
  readonly from: string;
  readonly to: string;
  readonly count: number;
}

function total(moves: readonly StageMoves[]): number {
  return moves.reduce((sum, { count }) => sum + count, 0);
}

/** How many records a gate let through. */
export function passedThrough(moves: readonly StageMoves[], gate: string): number {
  return total(moves.filter((move) => move.gate === gate));
}

/** How many records entered a stage, by gates and by hand. */
export function enteredInto(moves: readonly StageMoves[], stage: string): number {
  return total(moves.filter(({ to }) => to === stage));
}

/**
 * The share of moves along a pipeline that pass a stage over: of those that enter it, or lead from a stage before it to an open one behind it.
 *
 * @returns 0 to 1; null: there were no such moves
 */
export function skipShare(
  { stages }: Pick<Pipeline, 'stages'>,
  moves: readonly StageMoves[],
  stage: string,
): number | null {
  const path = stages.filter(({ kind, beside }) => kind === 'open' && !beside).map(({ key }): string => key);
  const here = path.indexOf(stage);
  if (here < 0) return null;
  const entered = enteredInto(moves, stage);
  const past = total(
    moves.filter(({ from, to }) => path.includes(from) && path.indexOf(from) < here && path.indexOf(to) > here),
  );
  return entered + past === 0 ? null : past / (entered + past);
}
