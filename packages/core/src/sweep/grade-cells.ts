import type { Grid } from '../grade/grid';
import type { ScoreSet } from '../score/score-set';

/** Cell 0 is that of records which can't be judged. */
export const NO_CELL = 0;

/** A grid by itself has cell 0, and then 1 + fit band · engagement bands + engagement band. */
export function cellCount(grid: Grid): number {
  return 1 + grid.fit.bands.length * grid.engagement.bands.length;
}

/** A cell of one of several grids. */
export interface GradeCell {
  readonly set: ScoreSet;
  readonly fit: number;
  readonly engagement: number;
}

/** The cells of several sets one after the other: the first is cell 1; one after the last is that of records that no set admits. */
export function gradeCells(sets: readonly ScoreSet[]): GradeCell[] {
  return sets.flatMap((set) =>
    set.grid.fit.bands.flatMap((_, fit) =>
      set.grid.engagement.bands.map((__, engagement) => ({ set, fit, engagement })),
    ),
  );
}

/** Before the cells of each set stand so many of others. */
export function cellOffsets(sets: readonly ScoreSet[]): number[] {
  let before = 0;
  return sets.map(({ grid }) => {
    const offset = before;
    before += cellCount(grid) - 1;
    return offset;
  });
}
