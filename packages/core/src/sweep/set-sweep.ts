import type { ReadyScoreSet } from '../score/score-record';
import { AxisSums } from './axis-sums';
import type { Bits } from '../column/bits';
import type { Resident } from './resident';
import { SetScores } from './scores';

/** Records of an axis each. */
export interface ByAxis {
  readonly fit: Bits;
  readonly engagement: Bits;
}

/** One score set over all records, whoever it admits. */
export class SetSweep {
  readonly fit: AxisSums;
  readonly engagement: AxisSums;
  readonly scores: SetScores;
  /** Records whose score may have changed with the last run. */
  touched: ByAxis;
  private shape = '';

  constructor(private readonly resident: Resident) {
    this.fit = new AxisSums('fit', resident);
    this.engagement = new AxisSums('engagement', resident);
    this.scores = new SetScores(resident.population.size);
    this.touched = { fit: resident.everyone, engagement: resident.everyone };
  }

  run({ fit, engagement, signals, groups, grid }: ReadyScoreSet): void {
    const touched = { fit: this.fit.take(signals, groups), engagement: this.engagement.take(signals, groups) };
    const { everyone } = this.resident;
    const shape = shapeOf({ fit, engagement, grid });
    if (shape === this.shape) {
      this.scores.update(this, { fit, engagement }, grid, touched);
      this.touched = touched;
    } else {
      this.scores.updateAll(this, { fit, engagement }, grid, everyone);
      this.touched = { fit: everyone, engagement: everyone };
    }
    this.shape = shape;
  }
}

/** What decides which score a sum gives, and which cell a score. */
export function shapeOf({ fit, engagement, grid }: Pick<ReadyScoreSet, 'fit' | 'engagement' | 'grid'>): string {
  return JSON.stringify([fit, engagement, grid.fit.cuts, grid.engagement.cuts]);
}
