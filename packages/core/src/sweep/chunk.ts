import type { Bits } from '../column/bits';
import type { SweptSet, Unscored } from './score-sweep';
import type { Scores } from './scores';
import type { Term } from './term';

/** So many words are worked on at a time: what a chunk needs then stays in the nearest cache. */
export const CHUNK = 1024;

/** What the terms of a chunk are answered from. */
export interface ChunkSetting {
  readonly everyone: Bits;
  readonly scores: Scores;
  /** Records without a score on the axis; null: none. */
  readonly unscored: Unscored;
  /** The sets that are on. */
  readonly sets: readonly SweptSet[];
}

/** The answers of a term for the words of a chunk. */
export interface ChunkAnswer {
  readonly yes: Uint32Array;
  readonly unjudged: Uint32Array;
}

function newAnswer(): ChunkAnswer {
  return { yes: new Uint32Array(CHUNK), unjudged: new Uint32Array(CHUNK) };
}

/** Some words of all records, at most {@link CHUNK}, and the answers of terms for them. */
export class Chunk {
  /** The words' places, of which the first `count` are in use. */
  words: Uint32Array = new Uint32Array(0);
  count = 0;
  private readonly levels: ChunkAnswer[] = [];

  /**
   * @param stages for each stage the records that are in it, by word of the chunk
   * @param moved those that gates have brought there
   */
  constructor(
    private readonly setting: ChunkSetting,
    private readonly stages: readonly Uint32Array[],
    private readonly moved: Uint32Array,
  ) {}

  /** Goes to other words. */
  moveTo(words: Uint32Array): void {
    this.words = words;
    this.count = words.length;
  }

  /** Answers a term; the answer is overwritten by the next question. */
  ask(term: Term): ChunkAnswer {
    return this.answer(term, 0);
  }

  private level(depth: number): ChunkAnswer {
    const known = this.levels[depth];
    if (known !== undefined) return known;
    const made = newAnswer();
    this.levels[depth] = made;
    return made;
  }

  private answer(term: Term, depth: number): ChunkAnswer {
    const into = this.level(depth);
    switch (term.kind) {
      case 'mask':
        this.gather(term.mask.yes, into.yes);
        if (term.mask.unjudged === null) into.unjudged.fill(0, 0, this.count);
        else this.gather(term.mask.unjudged, into.unjudged);
        return into;
      case 'changed':
        this.gather(term.records, into.yes);
        into.unjudged.fill(0, 0, this.count);
        return into;
      case 'cells':
        into.yes.fill(0, 0, this.count);
        for (const cell of term.of) this.gatherInto(this.setting.scores.cells[cell] as Bits, into.yes);
        this.gather(this.setting.scores.cells[0] as Bits, into.unjudged);
        return into;
      case 'stages':
        into.yes.fill(0, 0, this.count);
        into.unjudged.fill(0, 0, this.count);
        for (const stage of term.of) {
          const here = this.stages[stage] as Uint32Array;
          for (let k = 0; k < this.count; k += 1) into.yes[k] = (into.yes[k] as number) | (here[k] as number);
        }
        return into;
      case 'stage-time':
        this.gatherStageTime(term, into);
        return into;
      case 'score':
        this.gatherScores(term, into);
        return into;
      case 'set-score':
        this.gatherSetScores(term, into);
        return into;
      case 'all':
      case 'any':
        return this.combine(term.kind, term.of, depth);
      case 'not': {
        const { yes, unjudged } = this.answer(term.of, depth);
        for (let k = 0; k < this.count; k += 1) {
          const everyone = this.setting.everyone[this.words[k] as number] as number;
          yes[k] = everyone & ~((yes[k] as number) | (unjudged[k] as number));
        }
        return { yes, unjudged };
      }
    }
  }

  private combine(kind: 'all' | 'any', terms: readonly Term[], depth: number): ChunkAnswer {
    const { yes, unjudged: may } = this.level(depth);
    const { count } = this;
    for (let k = 0; k < count; k += 1) {
      const start = kind === 'all' ? (this.setting.everyone[this.words[k] as number] as number) : 0;
      yes[k] = start;
      may[k] = start;
    }
    for (const term of terms) {
      const part = this.answer(term, depth + 1);
      if (kind === 'all') {
        for (let k = 0; k < count; k += 1) {
          const holds = part.yes[k] as number;
          yes[k] = (yes[k] as number) & holds;
          may[k] = (may[k] as number) & (holds | (part.unjudged[k] as number));
        }
      } else {
        for (let k = 0; k < count; k += 1) {
          const holds = part.yes[k] as number;
          yes[k] = (yes[k] as number) | holds;
          may[k] = (may[k] as number) | holds | (part.unjudged[k] as number);
        }
      }
    }
    // What may hold, but does not hold for sure, is open.
    for (let k = 0; k < count; k += 1) may[k] = (may[k] as number) & ~(yes[k] as number);
    return { yes, unjudged: may };
  }

  private gather(bits: Bits, into: Uint32Array): void {
    const { words, count } = this;
    for (let k = 0; k < count; k += 1) into[k] = bits[words[k] as number] as number;
  }

  private gatherInto(bits: Bits, into: Uint32Array): void {
    const { words, count } = this;
    for (let k = 0; k < count; k += 1) into[k] = (into[k] as number) | (bits[words[k] as number] as number);
  }

  private gatherStageTime({ stood, moved: says }: Term & { kind: 'stage-time' }, into: ChunkAnswer): void {
    for (let k = 0; k < this.count; k += 1) {
      const moved = this.moved[k] as number;
      into.yes[k] = ((stood[this.words[k] as number] as number) & ~moved) | (says ? moved : 0);
    }
    into.unjudged.fill(0, 0, this.count);
  }

  private gatherScores({ axis, bits }: Term & { kind: 'score' }, into: ChunkAnswer): void {
    this.gatherOnAxis(axis, bits, this.setting.unscored, this.setting.everyone, into);
  }

  private gatherSetScores({ set: key, axis, bits }: Term & { kind: 'set-score' }, into: ChunkAnswer): void {
    const set = this.setting.sets.find((one) => one.set.key === key);
    if (set === undefined) throw new Error(`The set ${key} is off`);
    this.gatherOnAxis(axis, bits, set.unscored, set.admitted, into);
  }

  private gatherOnAxis(
    axis: 'fit' | 'engagement' | 'rank',
    bits: Bits,
    { fit, engagement }: Unscored,
    among: Bits,
    into: ChunkAnswer,
  ): void {
    for (let k = 0; k < this.count; k += 1) {
      const w = this.words[k] as number;
      const open =
        (axis === 'engagement' || fit === null ? 0 : (fit[w] as number)) |
        (axis === 'fit' || engagement === null ? 0 : (engagement[w] as number));
      const here = among[w] as number;
      into.yes[k] = (bits[w] as number) & ~open & here;
      into.unjudged[k] = open & here;
    }
  }
}

/** Takes the words of a chunk out of some bits. */
export function loadWords(ends: readonly Bits[], words: Uint32Array, into: readonly Uint32Array[]): void {
  ends.forEach((end, s) => {
    const here = into[s] as Uint32Array;
    for (let k = 0; k < words.length; k += 1) here[k] = end[words[k] as number] as number;
  });
}

/** Goes through words a chunk at a time. */
export function eachChunk(words: Uint32Array, visit: (chunk: Uint32Array) => void): void {
  for (let from = 0; from < words.length; from += CHUNK) visit(words.subarray(from, from + CHUNK));
}
