import type { ReadyScoreSet } from '../score/score-record';
import type { Share } from './axis-sums';
import { type Bits, noBits } from '../column/bits';
import { cellOffsets, gradeCells } from './grade-cells';
import { JoinedScores } from './joined-scores';
import type { Mask } from '../column/mask';
import type { Resident } from './resident';
import type { Scores } from './scores';
import { type ByAxis, SetSweep, shapeOf } from './set-sweep';

/** Records without a score on an axis; null: none. */
export interface Unscored {
  readonly fit: Bits | null;
  readonly engagement: Bits | null;
}

/** One score set, and what it comes to over the records it admits. */
export interface SweptSet {
  readonly set: ReadyScoreSet;
  readonly admitted: Bits;
  /** Those of them that it grades. */
  readonly graded: Bits;
  readonly scores: Scores;
  readonly unscored: Unscored;
  /** Records whose score may have changed with the last run. */
  readonly touched: ByAxis;
}

/** What the score sets of a charter come to. */
export interface Scored {
  /** Of each record by the set that grades it. */
  readonly scores: Scores;
  readonly unscored: Unscored;
  /** Records that no set admits. */
  readonly none: Bits;
  /** The sets that are on, in their order. */
  readonly sets: readonly SweptSet[];
  /** Differs from the last run's when other sets, or other entry conditions, tell who is graded by which. */
  readonly entries: string;
}

/** Who is admitted by each set, and who is graded by it: the first that admits them, unless one before can't be judged. */
interface Entries {
  readonly key: string;
  readonly admitted: readonly Bits[];
  readonly graded: readonly Bits[];
  /** An entry condition that comes before can't be judged. */
  readonly unknown: Bits;
  readonly none: Bits;
}

/** All score sets of a charter over all records. */
export class ScoreSweep {
  private readonly sweeps = new Map<string, SetSweep>();
  private readonly joined: JoinedScores;
  private entries: Entries | null = null;
  private shape = '';

  constructor(private readonly resident: Resident) {
    this.joined = new JoinedScores(resident.population.size);
  }

  run(sets: readonly ReadyScoreSet[]): Scored {
    const on = sets.filter((set) => set.on);
    for (const key of this.sweeps.keys()) if (!on.some((set) => set.key === key)) this.sweeps.delete(key);
    const sweeps = on.map((set) => {
      const sweep = this.sweeps.get(set.key) ?? new SetSweep(this.resident);
      this.sweeps.set(set.key, sweep);
      sweep.run(set);
      return sweep;
    });
    const entries = this.entriesOf(on);
    const swept = on.map((set, s): SweptSet => {
      const sweep = sweeps[s] as SetSweep;
      return {
        set,
        admitted: entries.admitted[s] as Bits,
        graded: entries.graded[s] as Bits,
        scores: sweep.scores,
        unscored: { fit: sweep.fit.unjudged, engagement: sweep.engagement.unjudged },
        touched: sweep.touched,
      };
    });
    const rest = { none: entries.none, sets: swept, entries: entries.key };
    const [only] = swept;
    // Mostly one set admits all: its own scores are those of all records.
    if (only !== undefined && swept.length === 1 && only.admitted === this.resident.everyone)
      return { scores: only.scores, unscored: only.unscored, ...rest };
    this.join(on, sweeps, entries);
    return { scores: this.joined, unscored: unscoredIn(swept, entries), ...rest };
  }

  /** How much a signal gives over the records that its set admits; of the last run. */
  shareOf(set: string, axis: 'fit' | 'engagement', signal: string, admitted: Bits): Share {
    return this.sweeps.get(set)?.[axis].shareOf(signal, admitted) ?? { records: 0, micro: 0 };
  }

  private join(on: readonly ReadyScoreSet[], sweeps: readonly SetSweep[], entries: Entries): void {
    const shape = `${entries.key} ${on.map(shapeOf).join()}`;
    if (shape === this.shape) {
      this.joined.join();
      return;
    }
    this.shape = shape;
    const offsets = cellOffsets(on);
    const parts = sweeps.map((sweep, s) => ({
      sweep,
      graded: entries.graded[s] as Bits,
      offset: offsets[s] as number,
    }));
    this.joined.joinAll(parts, gradeCells(on).length, entries.none, this.resident.everyone);
  }

  private entriesOf(on: readonly ReadyScoreSet[]): Entries {
    const key = JSON.stringify(on.map((set) => [set.key, set.when]));
    if (this.entries?.key === key) return this.entries;
    // Whoever was graded by another set is none of the old parts' any more.
    this.shape = '';
    const masks = on.map((set): Mask => this.resident.answerTo(set.ready));
    const unknown = noBits(this.resident.population.size);
    const left = this.resident.everyone.slice();
    const graded = masks.map(({ yes, unjudged }) => {
      const own = noBits(this.resident.population.size);
      for (let w = 0; w < own.length; w += 1) {
        const here = left[w] as number;
        const open = unjudged === null ? 0 : (unjudged[w] as number);
        own[w] = here & (yes[w] as number);
        unknown[w] = (unknown[w] as number) | (here & open);
        left[w] = here & ~((yes[w] as number) | open);
      }
      return own;
    });
    this.entries = { key, admitted: masks.map(({ yes }) => yes), graded, unknown, none: left };
    return this.entries;
  }
}

/** Records whose own set gives no score on an axis, and those of which it can't be said which set is theirs. */
function unscoredIn(swept: readonly SweptSet[], { graded, unknown }: Entries): Unscored {
  const on = (axis: 'fit' | 'engagement'): Bits => {
    const bits = unknown.slice();
    swept.forEach(({ unscored }, s) => {
      const own = unscored[axis];
      if (own === null) return;
      const of = graded[s] as Bits;
      for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) | ((own[w] as number) & (of[w] as number));
    });
    return bits;
  };
  return { fit: on('fit'), engagement: on('engagement') };
}
