import { dequal } from 'dequal/lite';
import type { Charter } from '../charter/charter';
import { bindCharter } from '../charter/ready-charter';
import type { Problem } from '../document/problem';
import type { Instant } from '../record/keys';
import { type Bits, both, noBits, setBit, without } from '../column/bits';
import type { Population } from '../sweep/population';
import { Resident } from '../sweep/resident';
import { type Reading, Sweep, type Swept } from '../sweep/sweep';
import type { World } from '../people/world';
import { accountOf, type SweptAccount } from './account';
import { chosenBy, type ImpactReading } from './scope';
import { type Part, Side } from './side';

/** A charter that was in force, and still governs records. */
export interface PastCharter {
  readonly number: number;
  readonly charter: Charter;
}

/** The charter in force and the draft held against it; without a draft both are the same. */
export interface Pair {
  readonly inForce: Charter;
  readonly draft: Charter;
}

export type Answered<T> =
  | { readonly ok: true; readonly answer: T }
  /** The draft can't be swept: what it names is not there. */
  | { readonly ok: false; readonly problems: readonly Problem[] };

interface Governed {
  readonly line: Line;
  readonly governs: Bits;
}

/** The two sides that an impact compares. */
export interface Sides {
  readonly before: Side;
  readonly after: Side;
  readonly chosen: Bits;
  readonly draft: Line;
}

/** A charter and its sweep: each keeps its own, so that an edit computes only what it touches. */
export interface Line {
  readonly sweep: Sweep;
  /** The charter last swept. */
  readonly charter: Charter;
  readonly swept: Swept;
  account: SweptAccount | null;
  /** The account of the run before, where one was made. */
  readonly previous: SweptAccount | null;
}

/** Charters swept over one population, and the sides of an impact that they make. */
export class Lines {
  private readonly residents = new Map<string, Resident>();
  private readonly lines = new Map<string, Line>();

  constructor(
    private readonly population: Population,
    private readonly world: World,
    private readonly asOf: Instant,
    private readonly past: readonly PastCharter[],
  ) {}

  /** Before and after: as if they came in by both charters; or, on enact, as they are governed, and the chosen by the draft. */
  sides(pair: Pair, reading: ImpactReading): Answered<Sides> {
    const { size, standing } = this.population;
    const draft = this.line('draft', pair.draft, reading);
    if (!draft.ok) return draft;
    const chosen = this.chosen(pair, reading);
    if (reading.kind === 'came-in') {
      const inForce = this.line('in force', pair.inForce, reading);
      if (!inForce.ok) return inForce;
      const side = (line: Line): Side => new Side([{ account: this.account(line), governs: null }], size);
      const sides = { before: side(inForce.answer), after: side(draft.answer) };
      return { ok: true, answer: { ...sides, chosen, draft: draft.answer } };
    }
    const governed = this.governed(pair);
    if (!governed.ok) return governed;
    const placed = noBits(size);
    for (let i = 0; i < size; i += 1) if (standing.owner[i] !== 0 || standing.queue[i] !== 0) setBit(placed, i);
    const part = (line: Line, governs: Bits): Part => ({
      account: accountOf(line.swept, size, governs, placed),
      governs,
    });
    const [first, ...others] = governed.answer;
    const before = new Side(
      [part(first.line, first.governs), ...others.map(({ line, governs }) => part(line, governs))],
      size,
    );
    const left = governed.answer.map(({ line, governs }) => part(line, without(governs, chosen)));
    const after = new Side([part(draft.answer, chosen), ...left], size);
    return { ok: true, answer: { before, after, chosen, draft: draft.answer } };
  }

  /**
   * The records by the charter that governs each, scored as of now; gates and routes are not run. Those of a past charter
   * that names what is gone count as governed by the one in force.
   */
  private governed({ inForce }: Pair): Answered<readonly [Governed, ...Governed[]]> {
    const reading = { kind: 'on-enact', reach: 'score' } as const;
    const first = this.line('in force', inForce, reading);
    if (!first.ok) return first;
    const { everyone } = this.resident(inForce);
    const others = this.past.flatMap(({ number, charter }): Governed[] => {
      const line = this.line(`charter ${number}`, charter, reading);
      if (!line.ok) return [];
      const governs = noBits(this.population.size);
      this.population.standing.charter.forEach((by, i) => {
        if (by === number) setBit(governs, i);
      });
      return [{ line: line.answer, governs }];
    });
    const rest = others.reduce((bits, { governs }) => without(bits, governs), everyone);
    return { ok: true, answer: [{ line: first.answer, governs: rest }, ...others] };
  }

  line(of: string, charter: Charter, reading: Reading): Answered<Line> {
    const key = `${of} ${reading.kind === 'came-in' ? 'came-in' : reading.reach}${reading.accepted ? ' accepted' : ''} ${charter.timeZone} ${charter.baseCurrency}`;
    const line = this.lines.get(key);
    // Of the two charters mostly one changes: the other stands as it was swept. What comes from another thread is a copy each time.
    if (line !== undefined && dequal(line.charter, charter)) return { ok: true, answer: line };
    const binding = bindCharter(charter, this.world);
    if (!binding.ok) return { ok: false, problems: binding.problems };
    const sweep = line?.sweep ?? new Sweep(this.resident(charter), reading);
    const made: Line = {
      sweep,
      charter,
      swept: sweep.run(binding.ready),
      account: null,
      previous: line?.account ?? null,
    };
    this.lines.set(key, made);
    return { ok: true, answer: made };
  }

  account(line: Line): SweptAccount {
    return (line.account ??= accountOf(line.swept, this.population.size, null, null, line.previous));
  }

  resident(charter: Pick<Charter, 'timeZone' | 'baseCurrency'>): Resident {
    const key = `${charter.timeZone} ${charter.baseCurrency}`;
    let resident = this.residents.get(key);
    if (resident === undefined) {
      resident = new Resident(this.population, this.asOf, charter, this.world);
      this.residents.set(key, resident);
    }
    return resident;
  }

  chosen({ draft }: Pair, reading: ImpactReading): Bits {
    const { everyone } = this.resident(draft);
    if (reading.kind === 'came-in') return everyone;
    // Closed records keep the score they closed with.
    return both(
      chosenBy(reading.scope, this.population, everyone, this.asOf, draft.timeZone),
      this.population.standing.open,
    );
  }
}
