import type { Organisation } from '../people/people';
import type { RepKey } from '../record/keys';
import type { Axis, AxisBounds } from '../score/score-set';
import { type Bits, countBits, eachBit, hasBit, noBits, setBit } from '../sweep/bits';
import { type Placed, WITH_OWNER } from '../sweep/replay';
import { FIRST_ROUTE } from '../sweep/route-sweep';
import { NO_CELL } from '../sweep/grade-cells';
import { HUNDREDTHS } from '../sweep/score-tables';
import type { Swept } from '../sweep/sweep';
import {
  compareFacets,
  type Facet,
  type FacetChange,
  gradeFacet,
  placeFacet,
  stageFacet,
  territoryFacet,
} from './facet';
import { rescored } from './rescored';

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

/** A record that the draft changes. */
export interface ChangedRecord {
  readonly id: number;
  readonly grade: readonly [before: string, after: string];
  readonly rank: readonly [before: number | null, after: number | null];
  readonly stage: readonly [before: string, after: string];
  readonly territory: readonly [before: string, after: string];
}

export const FACETS = ['grade', 'stage', 'territory'] as const;
export type FacetName = (typeof FACETS)[number];

/** What a draft makes of all records, against the charter in force. */
export interface Impact {
  readonly size: number;
  /** Records that the reading applies to. */
  readonly chosen: number;
  /** Records of which anything changes, and of which a score of any set does. */
  readonly any: number;
  readonly score: number;
  /** Of those that change grade: whose fit band rises, or at the same fit whose engagement band, and whose falls. */
  readonly up: number;
  readonly down: number;
  readonly facets: Readonly<Record<FacetName, FacetChange>>;
  /** By the key of each score set that is on before or after, over the records it admits; null: it is off, or not there. */
  readonly spreads: Readonly<
    Record<string, Readonly<Record<Axis, { readonly before: Spread | null; readonly after: Spread | null }>>>
  >;
  readonly course: { readonly before: CourseCounts; readonly after: CourseCounts };
  /** Those that change, best rank first, by what changes. */
  readonly leads: Readonly<Record<FacetName, readonly ChangedRecord[]>>;
}

export interface RepLoad {
  readonly rep: RepKey;
  /** Most open leads at a time; null: no limit. */
  readonly limit: number | null;
  readonly before: number;
  readonly after: number;
}

/** Who owns what, before and after. */
export interface OwnerImpact {
  readonly owners: FacetChange;
  readonly course: { readonly before: number; readonly after: number };
  /** Open leads that each rep ends up with, in the order of people. */
  readonly loads: readonly RepLoad[];
  readonly leads: readonly {
    readonly id: number;
    readonly from: string;
    readonly to: string;
  }[];
}

const SHOWN = 60;
const BARS = 100;

/** @param admitted null: all */
function spreadOf(scores: Int32Array, open: Bits | null, admitted: Bits | null, { least, most }: AxisBounds): Spread {
  const width = Math.max(1, Math.ceil((most - least) / BARS));
  const counts = new Uint32Array(Math.floor((most - least) / width) + 1);
  const [lowest, wide] = [least * HUNDREDTHS, width * HUNDREDTHS];
  for (let i = 0; i < scores.length; i += 1) {
    if ((open !== null && hasBit(open, i)) || (admitted !== null && !hasBit(admitted, i))) continue;
    // Both are whole numbers, and no score lies below the lowest.
    const bar = (((scores[i] as number) - lowest) / wide) | 0;
    counts[bar] = (counts[bar] as number) + 1;
  }
  return { from: least, width, counts: [...counts] };
}

/** The records that stand where streams act. */
function handedOver({ charter, stages }: Swept): Bits {
  const entering = new Set<string>(charter.charter.streams.flatMap((stream) => (stream.on ? stream.entering : [])));
  const bits = noBits((stages[0]?.length ?? 0) * 32);
  charter.charter.stages.forEach((stage, s) => {
    if (!entering.has(stage.key)) return;
    for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) | ((stages[s] as Bits)[w] as number);
  });
  return bits;
}

function courseOf(swept: Swept, size: number): CourseCounts {
  const qualified = handedOver(swept);
  let territories = 0;
  let routes = 0;
  eachBit(qualified, (i) => {
    if (swept.territory.codes[i] !== 0) territories += 1;
    if ((swept.outcome[i] as number) >= FIRST_ROUTE) routes += 1;
  });
  const { cells } = swept.scores;
  const notScored = cells[swept.grades.length + 1];
  const graded = size - countBits(cells[NO_CELL] as Bits) - (notScored ? countBits(notScored) : 0);
  return { intake: size, score: graded, grade: graded, gates: countBits(qualified), territories, routes, people: null };
}

/** Bands as one number: fit first, engagement where fit is the same; none is the lowest. */
function standingOf({ scores, grades }: Swept, i: number): number {
  const grade = grades[(scores.cell[i] as number) - 1];
  return grade === undefined ? -1 : grade.fit * 10 + grade.engagement;
}

function rankOf({ scores, grades }: Swept, i: number): number | null {
  if (grades[(scores.cell[i] as number) - 1] === undefined) return null;
  return ((scores.fit[i] as number) + (scores.engagement[i] as number)) / HUNDREDTHS;
}

/** What one sweep comes to by itself, ready to be held against another; good until the sweep runs again. */
export interface SweptAccount {
  readonly swept: Swept;
  readonly facets: Readonly<Record<FacetName, Facet>>;
  /** By the key of each score set that is on. */
  readonly spreads: ReadonlyMap<string, Readonly<Record<Axis, Spread>>>;
  readonly course: CourseCounts;
}

export function accountOf(swept: Swept, size: number): SweptAccount {
  const spreads = swept.sets.map(({ set, admitted, scores, unscored }) => {
    const some = countBits(admitted) === size ? null : admitted;
    const on = (axis: Axis): Spread => spreadOf(scores[axis], unscored[axis], some, set[axis]);
    return [set.key, { fit: on('fit'), engagement: on('engagement') }] as const;
  });
  return {
    swept,
    facets: { grade: gradeFacet(swept), stage: stageFacet(swept, size), territory: territoryFacet(swept) },
    spreads: new Map(spreads),
    course: courseOf(swept, size),
  };
}

/**
 * What changes between two sweeps of the same records, read alike.
 *
 * @param ids of the records, in their order
 * @param chosen records that the reading applies to; the others stay what they were
 */
export function compareSweeps(inForce: SweptAccount, draft: SweptAccount, ids: Uint32Array, chosen: Bits): Impact {
  const size = ids.length;
  const [before, after] = [inForce.swept, draft.swept];
  const any = noBits(size);
  const changed = { grade: noBits(size), stage: noBits(size), territory: noBits(size) };
  const [was, is] = [inForce.facets, draft.facets];
  const change = (name: FacetName): FacetChange =>
    compareFacets(was[name], is[name], chosen, (i) => {
      setBit(changed[name], i);
      setBit(any, i);
    });
  const facets = { grade: change('grade'), stage: change('stage'), territory: change('territory') };

  const score = rescored(before, after, chosen);
  for (let w = 0; w < any.length; w += 1) any[w] = (any[w] as number) | (score[w] as number);
  let up = 0;
  let down = 0;
  eachBit(changed.grade, (i) => {
    const rise = standingOf(after, i) - standingOf(before, i);
    if (rise > 0) up += 1;
    else if (rise < 0) down += 1;
  });

  const label = (name: FacetName, i: number): readonly [string, string] => [
    was[name].labels[was[name].codes[i] as number] ?? '',
    is[name].labels[is[name].codes[i] as number] ?? '',
  ];
  const leadsOf = (name: FacetName): ChangedRecord[] =>
    best(changed[name], after).map((i) => ({
      id: ids[i] as number,
      grade: label('grade', i),
      rank: [rankOf(before, i), rankOf(after, i)],
      stage: label('stage', i),
      territory: label('territory', i),
    }));
  const spreadsOf = (set: string) => {
    const on = (axis: Axis) => ({
      before: inForce.spreads.get(set)?.[axis] ?? null,
      after: draft.spreads.get(set)?.[axis] ?? null,
    });
    return [set, { fit: on('fit'), engagement: on('engagement') }] as const;
  };
  return {
    size,
    chosen: countBits(chosen),
    any: countBits(any),
    score: countBits(score),
    up,
    down,
    facets,
    spreads: Object.fromEntries([...new Set([...inForce.spreads.keys(), ...draft.spreads.keys()])].map(spreadsOf)),
    course: { before: inForce.course, after: draft.course },
    leads: { grade: leadsOf('grade'), stage: leadsOf('stage'), territory: leadsOf('territory') },
  };
}

/** The best of the records marked, by rank after the change. */
function best(bits: Bits, after: Swept): number[] {
  const top: { readonly i: number; readonly rank: number }[] = [];
  let least = -Infinity;
  for (let w = 0; w < bits.length; w += 1) {
    for (let rest = bits[w] as number; rest !== 0; rest &= rest - 1) {
      const i = (w << 5) + 31 - Math.clz32(rest & -rest);
      const rank = rankOf(after, i) ?? -1e9;
      if (top.length >= 4 * SHOWN && rank <= least) continue;
      top.push({ i, rank });
      if (top.length < 8 * SHOWN) continue;
      top.sort((a, b) => b.rank - a.rank || a.i - b.i);
      top.length = SHOWN;
      least = top.at(-1)?.rank ?? -Infinity;
    }
  }
  return top
    .sort((a, b) => b.rank - a.rank || a.i - b.i)
    .slice(0, SHOWN)
    .map(({ i }) => i);
}

function owned({ places }: Placed): number {
  let count = 0;
  for (const place of places) if (place === WITH_OWNER) count += 1;
  return count;
}

/**
 * Who owns what under two charters.
 *
 * @param swept what the second came from: the leads are given by its rank, the best first
 * @param chosen records that the reading applies to; the others stay where they were
 */
export function compareOwners(
  before: Placed,
  after: Placed,
  swept: Swept,
  ids: Uint32Array,
  chosen: Bits,
  { reps }: Organisation,
): OwnerImpact {
  const was = placeFacet(before);
  const is = placeFacet(after);
  const moved = noBits(ids.length);
  const owners = compareFacets(was, is, chosen, (i) => {
    setBit(moved, i);
  });
  return {
    owners,
    course: { before: owned(before), after: owned(after) },
    loads: [...reps.values()].map(({ key, limit }) => ({
      rep: key,
      limit,
      before: before.rota.loads.get(key) ?? 0,
      after: after.rota.loads.get(key) ?? 0,
    })),
    leads: best(moved, swept).map((i) => ({
      id: ids[i] as number,
      from: was.labels[was.codes[i] as number] ?? '',
      to: is.labels[is.codes[i] as number] ?? '',
    })),
  };
}
