import type { Pipeline } from './pipeline';

/** How many records moved from one stage to another in some time. */
export interface StageMoves {
  readonly from: string;
  readonly to: string;
  readonly count: number;
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
  let [entered, passed] = [0, 0];
  for (const { from, to, count } of moves) {
    if (to === stage) entered += count;
    else if (path.includes(from) && path.indexOf(from) < here && path.indexOf(to) > here) passed += count;
  }
  return entered + passed === 0 ? null : passed / (entered + passed);
}
