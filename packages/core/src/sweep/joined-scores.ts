import { type Bits, noBits } from '../column/bits';
import { NO_CELL } from './grade-cells';
import type { Scores, ScoreWatch, ScoreWatcher } from './scores';
import type { SetSweep } from './set-sweep';

/** The records that one set grades, and where its cells begin among those of all. */
export interface GradedPart {
  readonly sweep: SetSweep;
  readonly graded: Bits;
  readonly offset: number;
}

interface JoinedWatch extends ScoreWatch {
  readonly by: ScoreWatcher;
  /** What each part says of the range. */
  of: readonly Bits[];
}

/** Scores and cells where several sets grade: each record's by the set that grades it. */
export class JoinedScores implements Scores {
  readonly fit: Int32Array;
  readonly engagement: Int32Array;
  readonly cell: Uint8Array;
  readonly cells: Bits[] = [];
  readonly moved: Bits;
  private readonly watches = new Map<string, JoinedWatch>();
  private parts: readonly GradedPart[] = [];

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
      watch = { axis, least, most, by, bits: noBits(this.size), of: [] };
      this.watches.set(key, watch);
      this.fill(watch);
    }
    return watch.bits;
  }

  unwatch(by: ScoreWatcher): void {
    for (const [key, watch] of this.watches) if (watch.by === by) this.watches.delete(key);
    for (const { sweep } of this.parts) sweep.scores.unwatch(by);
  }

  /**
   * Takes the scores of all records from the sets that grade them; every one counts as changed.
   *
   * @param none records that no set admits: theirs is the last cell. All others that no part grades can't be judged.
   */
  joinAll(parts: readonly GradedPart[], cells: number, none: Bits, everyone: Bits): void {
    this.parts = parts;
    this.cells.length = 0;
    for (let c = 0; c <= cells + 1; c += 1) this.cells.push(noBits(this.size));
    this.fit.fill(0);
    this.engagement.fill(0);
    this.cell.fill(NO_CELL);
    const open = everyone.slice();
    const enter = (bits: Bits, code: (i: number) => number): void => {
      for (let w = 0; w < bits.length; w += 1) {
        open[w] = (open[w] as number) & ~(bits[w] as number);
        for (let rest = bits[w] as number; rest !== 0; rest &= rest - 1) {
          const i = (w << 5) + 31 - Math.clz32(rest & -rest);
          const is = code(i);
          this.cell[i] = is;
          const entered = this.cells[is] as Bits;
          entered[w] = (entered[w] as number) | (rest & -rest);
        }
      }
    };
    for (const part of parts) enter(part.graded, (i) => this.take(part, i));
    enter(none, () => cells + 1);
    const unjudged = this.cells[NO_CELL] as Bits;
    for (let w = 0; w < open.length; w += 1) unjudged[w] = (unjudged[w] as number) | (open[w] as number);
    this.moved.set(everyone);
    for (const watch of this.watches.values()) this.fill(watch);
  }

  /** Takes what changed with the last run of the parts; who is graded by which stayed the same. */
  join(): void {
    const { moved, cell, cells } = this;
    for (let w = 0; w < moved.length; w += 1) {
      let changed = 0;
      for (const part of this.parts) {
        const graded = part.graded[w] as number;
        const { touched, scores } = part.sweep;
        changed |= (scores.moved[w] as number) & graded;
        const taken = ((touched.fit[w] as number) | (touched.engagement[w] as number)) & graded;
        for (let rest = taken; rest !== 0; rest &= rest - 1) {
          const bit = rest & -rest;
          const i = (w << 5) + 31 - Math.clz32(bit);
          const was = cell[i] as number;
          const is = this.take(part, i);
          if (is === was) continue;
          cell[i] = is;
          const left = cells[was] as Bits;
          left[w] = (left[w] as number) & ~bit;
          const entered = cells[is] as Bits;
          entered[w] = (entered[w] as number) | bit;
        }
      }
      moved[w] = changed;
      if (changed !== 0) for (const watch of this.watches.values()) this.fillWord(watch, w);
    }
  }

  /** Copies a record's scores; returns its cell. */
  private take({ sweep: { scores }, offset }: GradedPart, i: number): number {
    this.fit[i] = scores.fit[i] as number;
    this.engagement[i] = scores.engagement[i] as number;
    const own = scores.cell[i] as number;
    return own === NO_CELL ? NO_CELL : offset + own;
  }

  private fill(watch: JoinedWatch): void {
    const { axis, least, most, by } = watch;
    watch.of = this.parts.map(({ sweep }) => sweep.scores.watch(axis, least, most, by));
    for (let w = 0; w < watch.bits.length; w += 1) this.fillWord(watch, w);
  }

  private fillWord({ bits, of }: JoinedWatch, w: number): void {
    let word = 0;
    this.parts.forEach(({ graded }, p) => {
      word |= ((of[p] as Bits)[w] as number) & (graded[w] as number);
    });
    bits[w] = word;
  }
}
