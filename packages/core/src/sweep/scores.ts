import type { AxisBounds } from '../score/score-set';
import type { Grid } from '../grade/grid';
import { type Bits, noBits } from '../column/bits';
import type { AxisSums } from './axis-sums';
import { cellCount, NO_CELL } from './grade-cells';
import { BandTable, inHundredths, Rounding, Stretches } from './score-tables';

interface Sums {
  readonly fit: AxisSums;
  readonly engagement: AxisSums;
}

interface Bounds {
  readonly fit: AxisBounds;
  readonly engagement: AxisBounds;
}

export type ScoreWatcher = 'gates' | 'routes' | 'asked';

/** A range of scores that some condition asks about: kept as bits, since most edits leave most answers as they are. */
export interface ScoreWatch {
  readonly axis: 'fit' | 'engagement' | 'rank';
  /** In hundredths; both belong to the range. */
  readonly least: number;
  readonly most: number;
  readonly bits: Bits;
}

/** Scores and cells of all records, and which records lie in each cell. */
export interface Scores {
  /** In hundredths, by record. */
  readonly fit: Int32Array;
  readonly engagement: Int32Array;
  /** By record, a place in `cells`. */
  readonly cell: Uint8Array;
  readonly cells: readonly Bits[];
  /** Records whose cell, or whose answer to a watched range, changed with the last update. */
  readonly moved: Bits;
  /** The records whose score lies in a range, in hundredths with both ends, kept up to date from now on. */
  watch(axis: ScoreWatch['axis'], least: number, most: number, by: ScoreWatcher): Bits;
  /** Forgets the ranges that gates, or routes, have asked about. */
  unwatch(by: ScoreWatcher): void;
}

/** What one score set makes of all records, whoever it admits. */
export class SetScores implements Scores {
  readonly fit: Int32Array;
  readonly engagement: Int32Array;
  readonly cell: Uint8Array;
  readonly cells: Bits[] = [];
  readonly moved: Bits;
  private readonly watches = new Map<string, ScoreWatch>();

  constructor(private readonly size: number) {
    this.fit = new Int32Array(size);
    this.engagement = new Int32Array(size);
    this.cell = new Uint8Array(size);
    this.moved = noBits(size);
  }

  watch(axis: ScoreWatch['axis'], least: number, most: number, by: ScoreWatcher): Bits {
    const key = `${by} ${axis} ${least} ${most}`;
    let watch = this.watches.get(key);
    if (watch === undefined) {
      watch = { axis, least, most, bits: noBits(this.size) };
      this.watches.set(key, watch);
      this.fill(watch);
    }
    return watch.bits;
  }

  unwatch(by: ScoreWatcher): void {
    for (const key of this.watches.keys()) if (key.startsWith(by)) this.watches.delete(key);
  }

  private fill({ axis, least, most, bits }: ScoreWatch): void {
    const { fit, engagement } = this;
    for (let w = 0; w < bits.length; w += 1) {
      const base = w << 5;
      const size = Math.min(32, fit.length - base);
      let word = 0;
      for (let b = 0; b < size; b += 1) {
        const score =
          (axis === 'engagement' ? 0 : (fit[base + b] as number)) +
          (axis === 'fit' ? 0 : (engagement[base + b] as number));
        word |= (Number(score >= least) & Number(score <= most)) << b;
      }
      bits[w] = word;
    }
  }

  /** Computes scores and cells of all records; every one counts as changed. */
  updateAll(sums: Sums, bounds: Bounds, grid: Grid, everyone: Bits): void {
    new Rounding(bounds.fit).scoreAll(sums.fit, this.fit);
    new Rounding(bounds.engagement).scoreAll(sums.engagement, this.engagement);
    this.moved.set(everyone);
    this.cells.length = 0;
    for (let c = 0; c < cellCount(grid); c += 1) this.cells.push(noBits(this.size));

    const fitBands = new BandTable(bounds.fit, grid.fit);
    const engagementBands = new BandTable(bounds.engagement, grid.engagement);
    const columns = grid.engagement.bands.length;
    const { fit, engagement, cell, cells } = this;
    for (let w = 0; w < everyone.length; w += 1) {
      const unjudged = openIn(sums, w);
      const base = w << 5;
      const size = Math.min(32, cell.length - base);
      for (let b = 0; b < size; b += 1) {
        const i = base + b;
        const is =
          ((unjudged >>> b) & 1) === 1
            ? NO_CELL
            : 1 + fitBands.bandOf(fit[i] as number) * columns + engagementBands.bandOf(engagement[i] as number);
        cell[i] = is;
        const entered = cells[is] as Bits;
        entered[w] = (entered[w] as number) | (1 << b);
      }
    }
    for (const watch of this.watches.values()) this.fill(watch);
  }

  /**
   * Computes scores and cells of some records, with the bounds and bands of last time.
   *
   * @param touched the records whose sum, or judgement, may have changed, axis by axis
   */
  update(sums: Sums, bounds: Bounds, grid: Grid, touched: { readonly fit: Bits; readonly engagement: Bits }): void {
    const fitRounding = new Rounding(bounds.fit);
    const engagementRounding = new Rounding(bounds.engagement);
    const fitPlain = sums.fit.plainSums;
    const engagementPlain = sums.engagement.plainSums;
    const watches = [...this.watches.values()];
    const of = (asked: ScoreWatch['axis']): ScoreWatch[] => watches.filter(({ axis }) => axis === asked);
    const range = ({ least, most }: AxisBounds): [number, number] => [inHundredths(least), inHundredths(most)];
    const [fitRange, engagementRange] = [range(bounds.fit), range(bounds.engagement)];
    const fitStretches = new Stretches(fitRange, grid.fit.cuts.map(inHundredths), of('fit'));
    const engagementStretches = new Stretches(
      engagementRange,
      grid.engagement.cuts.map(inHundredths),
      of('engagement'),
    );
    const ranks = of('rank');
    const rankRange = [fitRange[0] + engagementRange[0], fitRange[1] + engagementRange[1]] as const;
    const rankStretches = ranks.length === 0 ? null : new Stretches(rankRange, [], ranks);
    const settling = new Settling(this, bounds, grid, watches);
    const { fit, engagement, moved } = this;

    for (let w = 0; w < moved.length; w += 1) {
      const reopened = reopenedIn(sums.fit.reopened, w) | reopenedIn(sums.engagement.reopened, w);
      // Who can or can't be judged now answers watched ranges otherwise, whatever the score.
      let changed = watches.length === 0 ? 0 : reopened;
      const base = w << 5;
      const inFit = touched.fit[w] as number;
      const inEngagement = touched.engagement[w] as number;
      let crossed = reopened;
      for (let rest = inFit | inEngagement; rest !== 0; rest &= rest - 1) {
        const bit = rest & -rest;
        const i = base + 31 - Math.clz32(bit);
        const fitBefore = fit[i] as number;
        const engagementBefore = engagement[i] as number;
        let f = fitBefore;
        if ((inFit & bit) !== 0)
          f = fitRounding.scoreOf(fitPlain === null ? sums.fit.sumOf(i) : (fitPlain[i] as number));
        let e = engagementBefore;
        if ((inEngagement & bit) !== 0)
          e = engagementRounding.scoreOf(
            engagementPlain === null ? sums.engagement.sumOf(i) : (engagementPlain[i] as number),
          );
        fit[i] = f;
        engagement[i] = e;
        if (
          fitStretches.isCrossed(fitBefore, f) ||
          engagementStretches.isCrossed(engagementBefore, e) ||
          (rankStretches !== null && rankStretches.isCrossed(fitBefore + engagementBefore, f + e))
        )
          crossed |= bit;
      }
      if (crossed !== 0) changed |= settling.settle(w, crossed, openIn(sums, w));
      moved[w] = changed;
    }
  }
}

/** Gives records whose score crossed an edge, or whose judgement changed, their cells and answers. */
class Settling {
  private readonly fitBands: BandTable;
  private readonly engagementBands: BandTable;
  private readonly columns: number;

  constructor(
    private readonly scores: Pick<SetScores, 'fit' | 'engagement' | 'cell' | 'cells'>,
    bounds: Bounds,
    grid: Grid,
    private readonly watches: readonly ScoreWatch[],
  ) {
    this.fitBands = new BandTable(bounds.fit, grid.fit);
    this.engagementBands = new BandTable(bounds.engagement, grid.engagement);
    this.columns = grid.engagement.bands.length;
  }

  /**
   * @param bits of the word
   * @param unjudged those without a score
   * @returns those whose cell, or whose answer to a watched range, is another
   */
  settle(w: number, bits: number, unjudged: number): number {
    const { fit, engagement, cell, cells } = this.scores;
    let changed = 0;
    for (let rest = bits; rest !== 0; rest &= rest - 1) {
      const bit = rest & -rest;
      const i = (w << 5) + 31 - Math.clz32(bit);
      const [f, e] = [fit[i] as number, engagement[i] as number];
      for (const watch of this.watches) if (isFlipped(watch, w, bit, f, e)) changed |= bit;
      const was = cell[i] as number;
      const is =
        (unjudged & bit) === 0 ? 1 + this.fitBands.bandOf(f) * this.columns + this.engagementBands.bandOf(e) : NO_CELL;
      if (is === was) continue;
      changed |= bit;
      cell[i] = is;
      const left = cells[was] as Bits;
      left[w] = (left[w] as number) & ~bit;
      const entered = cells[is] as Bits;
      entered[w] = (entered[w] as number) | bit;
    }
    return changed;
  }
}

/** Records of a word without a score on some axis. */
function openIn({ fit, engagement }: Sums, w: number): number {
  return (
    (fit.unjudged === null ? 0 : (fit.unjudged[w] as number)) |
    (engagement.unjudged === null ? 0 : (engagement.unjudged[w] as number))
  );
}

function reopenedIn(reopened: Bits | null, w: number): number {
  return reopened === null ? 0 : (reopened[w] as number);
}

/** Sets the answer of one record to a watched range; true when it was another before. */
function isFlipped(
  { axis, least, most, bits }: ScoreWatch,
  w: number,
  bit: number,
  fit: number,
  engagement: number,
): boolean {
  const score = axis === 'fit' ? fit : axis === 'engagement' ? engagement : fit + engagement;
  const word = bits[w] as number;
  const now = score >= least && score <= most ? word | bit : word & ~bit;
  bits[w] = now;
  return (now ^ word) !== 0;
}
