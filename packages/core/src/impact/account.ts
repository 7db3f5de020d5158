import type { Axis } from '../signal/signal';
import type { AxisBounds } from '../score/score-set';
import { allBits, type Bits, both, countBits, noBits, without } from '../column/bits';
import { NO_CELL } from '../sweep/grade-cells';
import { FIRST_ROUTE } from '../sweep/route-sweep';
import { HUNDREDTHS } from '../sweep/score-tables';
import type { SweptSet } from '../sweep/score-sweep';
import type { Swept } from '../sweep/sweep';
import { type Facet, gradeFacet, stageFacet, territoryFacet } from './facet';

/** How many records reach each step of the course. */
export interface CourseCounts {
  readonly intake: number;
  readonly score: number;
  readonly grade: number;
  readonly gates: number;
  readonly territories: number;
  readonly routes: number;
  /** Null while owners are still being counted. */
  readonly people: number | null;
}

/** How the scores of an axis spread: `counts[i]` records from `from + i · width` on. */
export interface Spread {
  readonly from: number;
  readonly width: number;
  readonly counts: readonly number[];
}

export const FACETS = ['grade', 'stage', 'territory'] as const;
export type FacetName = (typeof FACETS)[number];

const BARS = 100;

/** The records that are admitted and have a score. */
function countedAmong(size: number, open: Bits | null, admitted: Bits | null): Bits {
  const bits = admitted?.slice() ?? allBits(size);
  if (open !== null) for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) & ~(open[w] as number);
  return bits;
}

/** @param admitted null: all */
function spreadOf(scores: Int32Array, open: Bits | null, admitted: Bits | null, { least, most }: AxisBounds): Spread {
  const width = Math.max(1, Math.ceil((most - least) / BARS));
  const counts = new Uint32Array(Math.floor((most - least) / width) + 1);
  // Both are whole numbers, and no score lies below the lowest, or above the highest.
  const [lowest, wide] = [least * HUNDREDTHS, width * HUNDREDTHS];
  if (open === null && admitted === null) countAll(scores, lowest, wide, counts);
  else countMarked(scores, countedAmong(scores.length, open, admitted), lowest, wide, counts);
  return { from: least, width, counts: [...counts] };
}

function countAll(scores: Int32Array, lowest: number, wide: number, counts: Uint32Array): void {
  for (let i = 0; i < scores.length; i += 1) {
    const bar = (((scores[i] as number) - lowest) / wide) | 0;
    counts[bar] = (counts[bar] as number) + 1;
  }
}

function countMarked(scores: Int32Array, marked: Bits, lowest: number, wide: number, counts: Uint32Array): void {
  for (let w = 0; w < marked.length; w += 1)
    for (let word = marked[w] as number; word !== 0; word &= word - 1) {
      const bar = (((scores[(w << 5) + 31 - Math.clz32(word & -word)] as number) - lowest) / wide) | 0;
      counts[bar] = (counts[bar] as number) + 1;
    }
}

/** The spread of the run before, if no score on the axis moved since. */
function unmoved({ set, admitted, touched }: SweptSet, axis: Axis, previous: SweptAccount | null): Spread | null {
  const before = previous?.swept.sets.find((one) => one.set.key === set.key);
  if (before?.admitted !== admitted || countBits(touched[axis]) > 0) return null;
  return previous?.spreads.get(set.key)?.[axis] ?? null;
}

/** The records that stand where streams act. */
function handedOver({ rules, stages }: Swept): Bits {
  const entering = new Set<string>(rules.streams.flatMap((stream) => (stream.on ? stream.entering : [])));
  const bits = noBits((stages[0]?.length ?? 0) * 32);
  rules.stages.forEach((stage, s) => {
    if (!entering.has(stage.key)) return;
    for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) | ((stages[s] as Bits)[w] as number);
  });
  return bits;
}

/** How many of the records marked have a code of at least so much. */
function countWhere(codes: Uint32Array | Uint16Array, least: number, marked: Bits): number {
  let count = 0;
  for (let w = 0; w < marked.length; w += 1)
    for (let word = marked[w] as number; word !== 0; word &= word - 1)
      if ((codes[(w << 5) + 31 - Math.clz32(word & -word)] as number) >= least) count += 1;
  return count;
}

function courseOf(swept: Swept, size: number, counted: Bits | null, placed: Bits | null): CourseCounts {
  const among = (bits: Bits): Bits => (counted === null ? bits : both(bits, counted));
  const qualified = among(handedOver(swept));
  const territories = countWhere(swept.territory.codes, 1, qualified);
  const routed = placed === null ? qualified : without(qualified, placed);
  const owned = placed === null ? 0 : countBits(both(qualified, placed));
  const routes = owned + countWhere(swept.outcome, FIRST_ROUTE, routed);
  const { cells } = swept.scores;
  const notScored = cells[swept.grades.length + 1];
  const intake = counted === null ? size : countBits(counted);
  const graded = intake - countBits(among(cells[NO_CELL] as Bits)) - (notScored ? countBits(among(notScored)) : 0);
  return { intake, score: graded, grade: graded, gates: countBits(qualified), territories, routes, people: null };
}

/**
 * The counts of one sweep, ready to be compared with another's; valid until the sweep runs again.
 *
 * `spreads` and `course` count only records that are counted.
 */
export interface SweptAccount {
  readonly swept: Swept;
  readonly facets: Readonly<Record<FacetName, Facet>>;
  /** By the key of each score set that is on. */
  readonly spreads: ReadonlyMap<string, Readonly<Record<Axis, Spread>>>;
  readonly course: CourseCounts;
}

/**
 * @param counted null: all records
 * @param placed records that have an owner or a queue before; null: none
 * @param previous the account of all records of the sweep's run before this one: what did not move since is not counted again
 */
export function accountOf(
  swept: Swept,
  size: number,
  counted: Bits | null,
  placed: Bits | null,
  previous: SweptAccount | null = null,
): SweptAccount {
  const spreads = swept.sets.map((one) => {
    const { set, admitted, scores, unscored } = one;
    const among = counted === null ? admitted : both(admitted, counted);
    const some = countBits(among) === size ? null : among;
    const on = (axis: Axis): Spread =>
      (counted === null ? unmoved(one, axis, previous) : null) ??
      spreadOf(scores[axis], unscored[axis], some, set[axis]);
    return [set.key, { fit: on('fit'), engagement: on('engagement') }] as const;
  });
  return {
    swept,
    facets: { grade: gradeFacet(swept), stage: stageFacet(swept, size), territory: territoryFacet(swept) },
    spreads: new Map(spreads),
    course: courseOf(swept, size, counted, placed),
  };
}
