import type { Organisation } from '../people/people';
import type { RepKey } from '../record/keys';
import { AXES, type Axis } from '../signal/signal';
import { mergedOrder } from '../document/merged-order';
import { type Bits, both, countBits, eachBit, noBits, setBit } from '../column/bits';
import { type Placed, WITH_OWNER } from '../sweep/placed';
import { HUNDREDTHS } from '../sweep/score-tables';
import type { CourseCounts, FacetName, Spread, SweptAccount } from './account';
import { compareFacets, type FacetChange, placeFacet } from './facet';
import { rescored } from './rescored';
import type { Side } from './side';

/** A record that the draft changes. */
export interface ChangedRecord {
  readonly id: number;
  readonly grade: readonly [before: string, after: string];
  readonly rank: readonly [before: number | null, after: number | null];
  readonly stage: readonly [before: string, after: string];
  readonly territory: readonly [before: string, after: string];
}

/** Records that rise, or fall, from band to band. */
export interface Shifted {
  readonly count: number;
  /** The best ranked first. */
  readonly leads: readonly ChangedRecord[];
}

/** What a draft makes of all records, against the charter in force. */
export interface Impact {
  readonly size: number;
  /** Records that the reading applies to. */
  readonly chosen: number;
  /** Records of which anything changes, and of which a score of any set does. */
  readonly any: number;
  readonly score: number;
  /** Records that rise and that fall, on each axis and as a whole: there fit counts first, engagement at the same fit. */
  readonly shifts: Readonly<Record<'grade' | Axis, { readonly up: Shifted; readonly down: Shifted }>>;
  readonly facets: Readonly<Record<FacetName, FacetChange>>;
  /** By the key of each score set that is on before or after, over the records it admits; null: it is off, or not there. */
  readonly spreads: Readonly<
    Record<string, Readonly<Record<Axis, { readonly before: Spread | null; readonly after: Spread | null }>>>
  >;
  readonly course: { readonly before: CourseCounts; readonly after: CourseCounts };
  /** Records about which gates ask a person anew. */
  readonly asked: { readonly before: number; readonly after: number };
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
/** By cell of a charter where its bands stand on each axis; none is the lowest. */
type Standings = ReadonlyMap<SweptAccount, Readonly<Record<Axis, Int32Array>>>;

/** Bands stand among those of both sides, so that a band put in between moves nobody. */
function standingsOn(before: Side, after: Side): Standings {
  const accounts = [...after.parts, ...before.parts].map(({ account }) => account);
  const orders = new Map<string, string[]>();
  for (const { swept } of accounts)
    for (const { key: set, grid } of swept.rules.scoreSets)
      for (const axis of AXES) {
        const own = grid[axis].bands.map(({ key }) => key);
        orders.set(`${set} ${axis}`, mergedOrder(orders.get(`${set} ${axis}`) ?? own, own));
      }
  return new Map(
    accounts.map((account) => {
      const standingsIn = (axis: Axis): Int32Array => {
        const standings = new Int32Array(account.swept.grades.length + 2).fill(-1);
        account.swept.grades.forEach((cell, c) => {
          const { key, grid } = cell.set;
          const band = grid[axis].bands[cell[axis]]?.key ?? '';
          standings[c + 1] = orders.get(`${key} ${axis}`)?.indexOf(band) ?? -1;
        });
        return standings;
      };
      return [account, { fit: standingsIn('fit'), engagement: standingsIn('engagement') }];
    }),
  );
}

/** Reads something of each record off the results of the charter that governs it. */
function readerOf(side: Side, read: (account: SweptAccount) => (record: number) => number): (record: number) => number {
  const readers = new Map(side.parts.map(({ account }) => [account, read(account)]));
  const [first] = readers.values();
  if (readers.size === 1 && first !== undefined) return first;
  return (record) => readers.get(side.of(record))?.(record) ?? NaN;
}

function standingsOf(side: Side, axis: Axis, standings: Standings): (record: number) => number {
  return readerOf(side, (account) => {
    const places = standings.get(account)?.[axis] ?? new Int32Array();
    const { cell } = account.swept.scores;
    return (i) => places[cell[i] as number] ?? -1;
  });
}

/** Below every rank, in hundredths: the record has no grade. */
const UNRANKED = -(2 ** 28);

/** Ranks in hundredths. */
function ranksOf(side: Side): (record: number) => number {
  return readerOf(side, ({ swept: { scores, grades } }) => {
    const { cell, fit, engagement } = scores;
    return (i) => {
      const graded = cell[i] as number;
      return graded >= 1 && graded <= grades.length ? (fit[i] as number) + (engagement[i] as number) : UNRANKED;
    };
  });
}

/**
 * What changes from one side to the other, of the same records.
 *
 * @param ids of the records, in their order
 * @param chosen records that the reading applies to; the others stay what they were
 */
export function compareSides(before: Side, after: Side, ids: Uint32Array, chosen: Bits): Impact {
  const size = ids.length;
  const any = noBits(size);
  const changed = { grade: noBits(size), stage: noBits(size), territory: noBits(size) };
  const facetsOf = (side: Side) => ({
    grade: side.facet('grade'),
    stage: side.facet('stage'),
    territory: side.facet('territory'),
  });
  const [was, is] = [facetsOf(before), facetsOf(after)];
  const change = (name: FacetName): FacetChange => {
    const facet = compareFacets(was[name], is[name], chosen, changed[name]);
    for (let w = 0; w < any.length; w += 1) any[w] = (any[w] as number) | (changed[name][w] as number);
    return facet;
  };
  const facets = { grade: change('grade'), stage: change('stage'), territory: change('territory') };

  const score = rescoredBetween(before, after, chosen);
  for (let w = 0; w < any.length; w += 1) any[w] = (any[w] as number) | (score[w] as number);
  const ways = waysOf(before, after, changed.grade);

  const label = (name: FacetName, i: number): readonly [string, string] => [
    was[name].labels[was[name].codes[i] as number] ?? '',
    is[name].labels[is[name].codes[i] as number] ?? '',
  ];
  const [rankWas, rankIs] = [ranksOf(before), ranksOf(after)];
  const shown = (rank: number): number | null => (rank === UNRANKED ? null : rank / HUNDREDTHS);
  const keys = keysBy(rankIs, any);
  const bestOf = (bits: Bits): ChangedRecord[] =>
    best(bits, keys).map((i) => ({
      id: ids[i] as number,
      grade: label('grade', i),
      rank: [shown(rankWas(i)), shown(rankIs(i))],
      stage: label('stage', i),
      territory: label('territory', i),
    }));
  const shifted = (bits: Bits): Shifted => ({ count: countBits(bits), leads: bestOf(bits) });
  const shiftsOf = ({ up, down }: Way) => ({ up: shifted(up), down: shifted(down) });
  const spreadsOf = (set: string) => {
    const on = (axis: Axis) => ({
      before: before.spread(set, axis),
      after: after.spread(set, axis),
    });
    return [set, { fit: on('fit'), engagement: on('engagement') }] as const;
  };
  return {
    size,
    chosen: countBits(chosen),
    any: countBits(any),
    score: countBits(score),
    shifts: { grade: shiftsOf(ways.grade), fit: shiftsOf(ways.fit), engagement: shiftsOf(ways.engagement) },
    facets,
    spreads: Object.fromEntries([...new Set([...before.sets, ...after.sets])].map(spreadsOf)),
    course: { before: before.course, after: after.course },
    asked: { before: askedOn(before, chosen), after: askedOn(after, chosen) },
    leads: { grade: bestOf(changed.grade), stage: bestOf(changed.stage), territory: bestOf(changed.territory) },
  };
}

interface Way {
  readonly up: Bits;
  readonly down: Bits;
}

/** Of the records that change grade those whose band rises, and those whose band falls. */
function waysOf(before: Side, after: Side, changed: Bits): Readonly<Record<'grade' | Axis, Way>> {
  const none = (): Way => ({ up: noBits(changed.length * 32), down: noBits(changed.length * 32) });
  const ways = { grade: none(), fit: none(), engagement: none() };
  const standings = standingsOn(before, after);
  const on = (axis: Axis) => ({ was: standingsOf(before, axis, standings), is: standingsOf(after, axis, standings) });
  const standing = { fit: on('fit'), engagement: on('engagement') };
  const note = ({ up, down }: Way, rise: number, i: number): void => {
    if (rise !== 0) setBit(rise > 0 ? up : down, i);
  };
  eachBit(changed, (i) => {
    const fit = standing.fit.is(i) - standing.fit.was(i);
    const engagement = standing.engagement.is(i) - standing.engagement.was(i);
    note(ways.fit, fit, i);
    note(ways.engagement, engagement, i);
    note(ways.grade, fit || engagement, i);
  });
  return ways;
}

/** How many of the records chosen a side's gates ask about. */
function askedOn({ parts }: Side, chosen: Bits): number {
  return parts.reduce((sum, { account, governs }) => {
    const asked = both(account.swept.asked, chosen);
    return sum + countBits(governs === null ? asked : both(asked, governs));
  }, 0);
}

/** The records of which some score changes between the charters that govern them. */
function rescoredBetween(before: Side, after: Side, chosen: Bits): Bits {
  const all = noBits(chosen.length * 32);
  for (const old of before.parts)
    for (const now of after.parts) {
      if (old.account === now.account) continue;
      const governed = [old.governs, now.governs].reduce<Bits>(
        (bits, governs) => (governs === null ? bits : both(bits, governs)),
        chosen,
      );
      const some = rescored(old.account.swept, now.account.swept, governed);
      for (let w = 0; w < all.length; w += 1) all[w] = (all[w] as number) | (some[w] as number);
    }
  return all;
}

/** More records than any population has: a rank and a place make one whole number, in which the rank counts first. */
const PLACES = 2 ** 24;

/** The key by which each of the records marked is compared. */
function keysBy(rankOf: (record: number) => number, marked: Bits): Float64Array {
  const keys = new Float64Array(marked.length * 32);
  eachBit(marked, (i) => {
    keys[i] = rankOf(i) * PLACES - i;
  });
  return keys;
}

/** The best of the records marked, by rank after the change; of equal ones the first. */
function best(bits: Bits, keys: Float64Array): number[] {
  // A heap of the best so far, the least of them on top.
  const heap: number[] = [];
  for (let w = 0; w < bits.length; w += 1)
    for (let word = bits[w] as number; word !== 0; word &= word - 1) {
      const key = keys[(w << 5) + 31 - Math.clz32(word & -word)] as number;
      if (heap.length < SHOWN) {
        heap.push(key);
        if (heap.length === SHOWN) heap.sort((a, b) => a - b);
      } else if (key > (heap[0] as number)) sink(heap, key);
    }
  return heap.sort((a, b) => b - a).map((key) => Math.ceil(key / PLACES) * PLACES - key);
}

/** Puts a key in the place of the least, and lets it sink to where it belongs. */
function sink(heap: number[], key: number): void {
  let at = 0;
  for (let child = 1; child < heap.length; child = 2 * at + 1) {
    if (child + 1 < heap.length && (heap[child + 1] as number) < (heap[child] as number)) child += 1;
    if ((heap[child] as number) >= key) break;
    heap[at] = heap[child] as number;
    at = child;
  }
  heap[at] = key;
}

function owned({ places }: Placed): number {
  let count = 0;
  for (const place of places) if (place === WITH_OWNER) count += 1;
  return count;
}

/**
 * Who owns what under two charters.
 *
 * @param side what the second came from: the leads are given by its rank, the best first
 * @param chosen records that the reading applies to; the others stay where they were
 */
export function compareOwners(
  before: Placed,
  after: Placed,
  side: Side,
  ids: Uint32Array,
  chosen: Bits,
  { reps }: Organisation,
): OwnerImpact {
  const was = placeFacet(before);
  const is = placeFacet(after);
  const moved = noBits(ids.length);
  const owners = compareFacets(was, is, chosen, moved);
  return {
    owners,
    course: { before: owned(before), after: owned(after) },
    loads: [...reps.values()].map(({ key, limit }) => ({
      rep: key,
      limit,
      before: before.rota.loads.get(key) ?? 0,
      after: after.rota.loads.get(key) ?? 0,
    })),
    leads: best(moved, keysBy(ranksOf(side), moved)).map((i) => ({
      id: ids[i] as number,
      from: was.labels[was.codes[i] as number] ?? '',
      to: is.labels[is.codes[i] as number] ?? '',
    })),
  };
}
