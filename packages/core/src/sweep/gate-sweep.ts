import { type ReadyCondition, readyTestsIn } from '../condition/ready';
import { MOST_MOVES } from '../gate/pass-gates';
import { type Bits, noBits } from '../column/bits';
import { type Chunk, CHUNK, type ChunkAnswer } from './chunk';
import { GateChanges, type GateMark } from './gate-changes';
import type { GatePlan } from './plan';
import { type Term, termInStage, termOf, type TermSetting } from './term';

/** A condition of a gate, laid out. */
interface Answering {
  /** For records that stood in the stage before, and for those that gates have just brought there. */
  readonly stood: Term;
  readonly moved: Term;
  /** Its condition reads values that gates change, so that its answer for records that moved may differ after each move. */
  readonly varies: boolean;
}

interface GateTerm extends Answering {
  readonly to: number;
  /** It asks a person: nobody moves, and who would have is marked as asked. */
  readonly asks: boolean;
  /** Other stages to which it moves, the first whose condition holds; none where it asks. */
  readonly alternatives: readonly (Answering & { readonly to: number })[];
  readonly marks: readonly GateMark[];
  /** Records for which it makes tasks or a deal; null: it makes none. */
  readonly makes: Bits | null;
  /** Records for which it was true at its last look; null: none. */
  readonly looked: Bits | null;
}

/** Records that passed a gate to its own stage, how many tasks it makes for each, and whether it makes a deal of it. */
export interface MadeByGate {
  readonly tasks: number;
  readonly deal: boolean;
  readonly records: Bits;
}

const emptyChunk = (): Uint32Array => new Uint32Array(CHUNK);

/** Takes all records through the gates, word by word; the same as `passGates` for each. */
export class GateSweep {
  /** For each stage the records that end in it. */
  readonly ends: readonly Bits[];
  /** Records that ran in a circle and were stopped. */
  readonly loop: Bits;
  /** Records that gates have moved. */
  readonly moved: Bits;
  /** Records about which a gate of their stage asks a person anew. */
  readonly asked: Bits;
  /** Records of whose stage some gate can't be judged. */
  readonly unjudged: Bits;
  /** Of each gate that makes tasks or a deal. */
  readonly made: readonly MadeByGate[];
  private readonly gates: readonly (readonly GateTerm[])[];
  private readonly here: readonly Uint32Array[];
  private readonly next: readonly Uint32Array[];
  private readonly stay: readonly Uint32Array[];
  private readonly gone = emptyChunk();
  private readonly stopped = emptyChunk();
  private readonly asking = emptyChunk();
  private readonly answers = new Map<Term, ChunkAnswer>();
  /** The values that the gates have changed. */
  readonly changes: GateChanges;
  private readonly untaggable: Bits | null;

  /**
   * @param starts for each stage the records that begin in it
   * @param looks records for which each gate was true at its last look, by look key
   * @param movable records for which gates are run; the others stay
   * @param accepted gates that ask move by themselves, to the rule's pick
   */
  constructor(
    { gates, stages }: Pick<GatePlan, 'gates' | 'stages'>,
    private readonly starts: readonly Bits[],
    looks: ReadonlyMap<string, Bits>,
    private readonly movable: Bits,
    setting: Omit<TermSetting, 'changes'>,
    accepted: boolean,
  ) {
    const { resident } = setting;
    const { size } = resident.population;
    this.changes = new GateChanges(
      gates.filter(({ on }) => on),
      resident,
    );
    this.untaggable = this.changes.untaggable;
    this.ends = stages.map(() => noBits(size));
    this.loop = noBits(size);
    this.moved = noBits(size);
    this.unjudged = noBits(size);
    this.asked = noBits(size);
    this.here = stages.map(emptyChunk);
    this.next = stages.map(emptyChunk);
    this.stay = stages.map(emptyChunk);
    const made = new Map(gates.map((gate) => [gate, { tasks: gate.tasks, deal: gate.deal, records: noBits(size) }]));
    this.made = [...made.values()].filter(({ tasks, deal }) => tasks > 0 || deal);
    const own = { ...setting, changes: this.changes };
    this.gates = stages.map((stage, s) =>
      gates
        .filter((gate) => gate.on && gate.from === stage && gate.decider !== 'person')
        .map((gate) => ({
          to: stages.indexOf(gate.to),
          asks: gate.decider === 'asks' && !accepted,
          ...termsOf(gate.ready, s, own),
          alternatives: (accepted ? gate.alternatives : []).map(({ to, ready }) => ({
            to: stages.indexOf(to),
            ...termsOf(ready, s, own),
          })),
          marks: this.changes.marks(gate.effects),
          makes: gate.tasks > 0 || gate.deal ? (made.get(gate)?.records ?? null) : null,
          looked: looks.get(gate.look) ?? null,
        })),
    );
  }

  /** Of a word, the records that began in one of these stages. */
  begunIn(stages: readonly number[], w: number): number {
    let begun = 0;
    for (const s of stages) begun |= (this.starts[s] as Bits)[w] as number;
    return begun;
  }

  /** Takes the records of a chunk from where they begin to where they end. */
  pass(chunk: Chunk): void {
    const { words, count } = chunk;
    this.answers.clear();
    this.changes.forget(words.subarray(0, count));
    this.starts.forEach((start, s) => {
      const here = this.here[s] as Uint32Array;
      const stay = this.stay[s] as Uint32Array;
      for (let k = 0; k < count; k += 1) {
        here[k] = start[words[k] as number] as number;
        stay[k] = 0;
      }
    });
    for (let k = 0; k < count; k += 1) {
      this.loop[words[k] as number] = 0;
      this.moved[words[k] as number] = 0;
      this.unjudged[words[k] as number] = 0;
      this.asked[words[k] as number] = 0;
      for (const { records } of this.made) records[words[k] as number] = 0;
    }
    for (let moves = 0; moves <= MOST_MOVES; moves += 1) if (!this.step(chunk, moves)) break;
    this.undoLoops(chunk);
    this.ends.forEach((end, s) => {
      const stay = this.stay[s] as Uint32Array;
      for (let k = 0; k < count; k += 1) end[words[k] as number] = stay[k] as number;
    });
  }

  /** Puts records that ran in a circle back where they began, as if no gate had been run. */
  private undoLoops({ words, count }: Chunk): void {
    for (let k = 0; k < count; k += 1) {
      const w = words[k] as number;
      const looped = this.loop[w] as number;
      if (looped === 0) continue;
      this.starts.forEach((start, s) => {
        const stay = this.stay[s] as Uint32Array;
        stay[k] = (stay[k] as number) | ((start[w] as number) & looped);
      });
      for (const bits of [this.moved, this.asked, this.unjudged, ...this.made.map(({ records }) => records)])
        bits[w] = (bits[w] as number) & ~looped;
      this.changes.undo(w, looped);
    }
  }

  /** One move at most for each record; false when nobody moved. */
  private step(chunk: Chunk, moves: number): boolean {
    const { count } = chunk;
    for (const next of this.next) next.fill(0, 0, count);
    let moved = false;
    this.here.forEach((here, s) => {
      if (isEmpty(here, count)) return;
      if (this.leave(chunk, here, s, moves)) moved = true;
    });
    this.here.forEach((here, s) => {
      here.set((this.next[s] as Uint32Array).subarray(0, count));
    });
    return moved;
  }

  private leave(chunk: Chunk, here: Uint32Array, s: number, moves: number): boolean {
    const last = moves === MOST_MOVES;
    const { words, count } = chunk;
    const stay = this.stay[s] as Uint32Array;
    const gone = this.gone.fill(0, 0, count);
    const stopped = this.stopped.fill(0, 0, count);
    const asking = this.asking.fill(0, 0, count);
    let moved = 0;
    for (const gate of this.gates[s] as readonly GateTerm[]) {
      const { yes, unjudged } = this.answerOf(gate, moves, chunk);
      const picks = gate.alternatives.map((other) => ({
        next: this.next[other.to] as Uint32Array,
        ...this.answerOf(other, moves, chunk),
      }));
      const next = this.next[gate.to] as Uint32Array;
      for (let k = 0; k < count; k += 1) {
        const w = words[k] as number;
        // A record that has moved entered the stage just now: its looks start as false.
        const seen = gate.looked === null || moves > 0 ? 0 : (gate.looked[w] as number);
        // A gate that can't be judged stopped the others.
        const rest = (here[k] as number) & ~(stopped[k] as number);
        const moving = rest & (yes[k] as number) & ~seen & (this.movable[w] as number);
        if (gate.asks) {
          asking[k] = (asking[k] as number) | moving;
        } else if (moving !== 0) {
          here[k] = (here[k] as number) & ~moving;
          if (last) {
            this.loop[w] = (this.loop[w] as number) | moving;
          } else {
            let own = moving;
            for (const pick of picks) {
              const picked = own & (pick.yes[k] as number);
              pick.next[k] = (pick.next[k] as number) | picked;
              own &= ~picked;
            }
            next[k] = (next[k] as number) | own;
            this.moved[w] = (this.moved[w] as number) | moving;
            gone[k] = (gone[k] as number) | moving;
            moved |= moving;
            this.mark(gate.marks, w, own);
            if (gate.makes !== null) gate.makes[w] = (gate.makes[w] as number) | own;
          }
        }
        stopped[k] = (stopped[k] as number) | (rest & (unjudged[k] as number));
      }
    }
    for (let k = 0; k < count; k += 1) {
      const w = words[k] as number;
      stay[k] = (stay[k] as number) | (here[k] as number);
      // Nobody is asked about a record that went on from the stage, or that was stopped.
      this.asked[w] = (this.asked[w] as number) | ((asking[k] as number) & (here[k] as number));
      // Whoever went on asked the gates of another stage last.
      this.unjudged[w] = ((this.unjudged[w] as number) & ~(gone[k] as number)) | (stopped[k] as number);
    }
    return moved !== 0;
  }

  private mark(marks: readonly GateMark[], w: number, moving: number): void {
    for (const { gives, takes } of marks) {
      const records = takes === null && this.untaggable !== null ? moving & ~(this.untaggable[w] as number) : moving;
      gives[w] = (gives[w] as number) | records;
      for (const other of takes ?? []) other[w] = (other[w] as number) & ~moving;
    }
  }

  /** After the first round every record asked has moved. */
  private answerOf({ stood, moved, varies }: Answering, moves: number, chunk: Chunk): ChunkAnswer {
    const term = moves > 0 ? moved : stood;
    const known = this.answers.get(term);
    if (known !== undefined) return known;
    const { yes, unjudged } = chunk.ask(term);
    const kept = { yes: yes.slice(0, chunk.count), unjudged: unjudged.slice(0, chunk.count) };
    if (moves === 0 || !varies) this.answers.set(term, kept);
    return kept;
  }
}

function termsOf(ready: ReadyCondition, stage: number, setting: TermSetting): Answering {
  // A record that has not moved has no value from a gate.
  const term = termOf(ready, { ...setting, changes: null });
  const stood = termInStage(term, stage, false, setting);
  const varies = readsChanges(ready, setting);
  // Mostly nothing asks since when it is there: then both are one, and answered once.
  if (!varies && !asksStageTime(term)) return { stood, moved: stood, varies };
  return { stood, moved: termInStage(varies ? termOf(ready, setting) : term, stage, true, setting), varies };
}

function readsChanges(ready: ReadyCondition, { changes }: TermSetting): boolean {
  for (const test of readyTestsIn(ready)) if (changes?.reads(test)) return true;
  return false;
}

function asksStageTime(term: Term): boolean {
  switch (term.kind) {
    case 'stage-time':
      return true;
    case 'all':
    case 'any':
      return term.of.some(asksStageTime);
    case 'not':
      return asksStageTime(term.of);
    default:
      return false;
  }
}

function isEmpty(words: Uint32Array, count: number): boolean {
  for (let k = 0; k < count; k += 1) if (words[k] !== 0) return false;
  return true;
}
