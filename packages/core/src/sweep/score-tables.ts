import { bandOf } from '../grade/band';
import type { Bands } from '../grade/band';
import { MICRO } from '../signal/points';
import type { AxisBounds } from '../score/score-set';
import type { AxisSums } from './axis-sums';

/** Scores are kept in hundredths of a point: no axis shows more than two decimals. */
export const HUNDREDTHS = 100;

/** Rounding and bounds of an axis, ready for many sums. */
export class Rounding {
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

  /**
   * The score of a sum, in hundredths; the same as `total` gives.
   *
   * Below 2^30 units the nearest double to the quotient lies on the right side of every half; above, the bounds decide.
   */
  scoreOf(micro: number): number {
    const rounded = micro < 0 ? -Math.floor(-micro / this.unit + 0.5) : Math.floor(micro / this.unit + 0.5);
    const score = rounded * this.step;
    return score < this.least ? this.least : score > this.most ? this.most : score;
  }

  /** The scores of all sums. */
  scoreAll(sums: AxisSums, into: Int32Array): void {
    const { unit, step, least, most } = this;
    const plain = sums.plainSums;
    for (let i = 0; i < into.length; i += 1) {
      const micro = plain === null ? sums.sumOf(i) : (plain[i] as number);
      const rounded = micro < 0 ? -Math.floor(-micro / unit + 0.5) : Math.floor(micro / unit + 0.5);
      const score = rounded * step;
      into[i] = score < least ? least : score > most ? most : score;
    }
  }
}

/** An axis with more scores than this, in hundredths, has no table of them. */
const LONGEST_TABLE = 1_000_000;

/** The bands of an axis, looked up by score. */
export class BandTable {
  private readonly least: number;
  private readonly cuts: readonly number[];
  private readonly bands: Uint8Array | null;

  constructor({ least, most }: AxisBounds, { cuts }: Bands) {
    this.least = Math.round(least * HUNDREDTHS);
    this.cuts = cuts.map((cut) => Math.round(cut * HUNDREDTHS));
    const scores = Math.round(most * HUNDREDTHS) - this.least + 1;
    this.bands = scores > LONGEST_TABLE ? null : new Uint8Array(scores);
    this.cuts.forEach((cut, c) => this.bands?.fill(c + 1, Math.max(0, cut - this.least)));
  }

  bandOf(score: number): number {
    return this.bands === null ? bandOf(score, this.cuts) : (this.bands[score - this.least] as number);
  }
}

/** Which band and which watched ranges a score lies in, as one number: between two scores with the same number no answer changes. */
export class Stretches {
  private readonly least: number;
  private readonly table: Uint8Array | null;

  /**
   * @param least and `most`: between them, both included, lie all scores, in hundredths
   * @param cuts each begins another band, in hundredths
   */
  constructor(
    [least, most]: readonly [least: number, most: number],
    cuts: readonly number[],
    watches: readonly { readonly least: number; readonly most: number }[],
  ) {
    this.least = least;
    // A range begins another stretch at its least, and after its most.
    const edges = new Set([...cuts, ...watches.flatMap((watch) => [watch.least, watch.most + 1])]);
    const inside = [...edges].filter((edge) => edge > least && edge <= most).sort((x, y) => x - y);
    const scores = most - least + 1;
    this.table = scores > LONGEST_TABLE || inside.length > 255 ? null : new Uint8Array(scores);
    inside.forEach((edge, s) => this.table?.fill(s + 1, edge - least));
  }

  isCrossed(from: number, to: number): boolean {
    return this.table === null || this.table[from - this.least] !== this.table[to - this.least];
  }
}

/** Points in hundredths, as scores are kept. */
export const inHundredths = (points: number): number => Math.round(points * HUNDREDTHS);
