import { MICRO } from '../score/points';
import type { AxisBounds } from '../score/score-set';
import type { Bands, Grid } from '../grade/grid';
import { type Bits, clearBit, noBits, setBit } from './bits';
import type { AxisSums } from './axis-sums';

/** Scores are kept in hundredths of a point: no axis shows more than two decimals. */
export const HUNDREDTHS = 100;

/** Cell 0 is no grade; cell 1 + fit band · engagement bands + engagement band is that of the grid. */
export const NO_CELL = 0;

export function cellOf(grid: Grid, fit: number, engagement: number): number {
  return 1 + fit * grid.engagement.names.length + engagement;
}

export function cellCount(grid: Grid): number {
  return 1 + grid.fit.names.length * grid.engagement.names.length;
}

/** Rounding and bounds of an axis, ready for many sums. */
class Rounding {
  private readonly unit: number;
  private readonly step: number;
  private readonly least: number;
  private readonly most: number;

  constructor({ least, most, decimals }: AxisBounds) {
    this.unit = MICRO / 10 ** decimals;
    this.step = HUNDREDTHS / 10 ** decimals;
    this.least = Math.round(least * HUNDREDTHS);
    this.most = Math.round(most * HUNDREDTHS);
  }

  /** The score of a sum, in hundredths: the same as `total`, which has the proof. */
  scoreOf(micro: number): number {
    const size = micro < 0 ? -micro : micro;
    const whole = Math.floor(size / this.unit);
    const rounded = (2 * (size - whole * this.unit) >= this.unit ? whole + 1 : whole) * this.step;
    const signed = micro < 0 ? -rounded : rounded;
    return signed < this.least ? this.least : signed > this.most ? this.most : signed;
  }
}

function cutsInHundredths(bands: Bands): Int32Array {
  return Int32Array.from(bands.cuts, (cut) => Math.round(cut * HUNDREDTHS));
}

function bandAt(score: number, cuts: Int32Array): number {
  let band = 0;
  for (let i = 0; i < cuts.length; i += 1) if (score >= (cuts[i] as number)) band += 1;
  return band;
}

/** Scores and cells of all records, and which records lie in each cell. */
export class Scores {
  readonly fit: Int32Array;
  readonly engagement: Int32Array;
  readonly cell: Uint8Array;
  readonly cells: Bits[] = [];
  /** Records whose score changed on the last update, and those whose cell did. */
  readonly rescored: Bits;
  readonly regraded: Bits;

  constructor(private readonly size: number) {
    this.fit = new Int32Array(size);
    this.engagement = new Int32Array(size);
    this.cell = new Uint8Array(size);
    this.rescored = noBits(size);
    this.regraded = noBits(size);
  }

  /**
   * Computes scores and cells of the records named.
   *
   * @param all every record is computed, and counts as changed: the first time, or when bounds or bands changed
   */
  update(
    sums: { readonly fit: AxisSums; readonly engagement: AxisSums },
    bounds: { readonly fit: AxisBounds; readonly engagement: AxisBounds },
    grid: Grid,
    touched: Bits,
    all: boolean,
  ): void {
    if (all) {
      this.cells.length = 0;
      for (let c = 0; c < cellCount(grid); c += 1) this.cells.push(noBits(this.size));
    }
    const fitRounding = new Rounding(bounds.fit);
    const engagementRounding = new Rounding(bounds.engagement);
    const fitCuts = cutsInHundredths(grid.fit);
    const engagementCuts = cutsInHundredths(grid.engagement);
    const columns = grid.engagement.names.length;
    const fitPlain = sums.fit.plainSums;
    const engagementPlain = sums.engagement.plainSums;
    const { fit, engagement, cell, cells, rescored, regraded } = this;

    for (let w = 0; w < touched.length; w += 1) {
      const word = touched[w] as number;
      let scored = 0;
      let graded = 0;
      if (word !== 0) {
        const unjudged =
          (sums.fit.unjudged === null ? 0 : (sums.fit.unjudged[w] as number)) |
          (sums.engagement.unjudged === null ? 0 : (sums.engagement.unjudged[w] as number));
        const base = w << 5;
        for (let rest = word; rest !== 0; rest &= rest - 1) {
          const bit = rest & -rest;
          const i = base + 31 - Math.clz32(bit);
          const f = fitRounding.scoreOf(fitPlain === null ? sums.fit.sumOf(i) : (fitPlain[i] as number));
          const e = engagementRounding.scoreOf(
            engagementPlain === null ? sums.engagement.sumOf(i) : (engagementPlain[i] as number),
          );
          const is = (unjudged & bit) === 0 ? 1 + bandAt(f, fitCuts) * columns + bandAt(e, engagementCuts) : NO_CELL;
          const was = cell[i] as number;
          if (f !== fit[i] || e !== engagement[i]) scored |= bit;
          fit[i] = f;
          engagement[i] = e;
          if (is === was && !all) continue;
          graded |= bit;
          cell[i] = is;
          if (!all) clearBit(cells[was] as Bits, i);
          setBit(cells[is] as Bits, i);
        }
      }
      rescored[w] = all ? word : scored;
      regraded[w] = graded;
    }
  }
}
