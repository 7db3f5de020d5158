import { cellKey } from '../grade/grade';
import { type Bits, countBits, eachBit, setBit } from '../column/bits';
import type { CodeColumn } from '../column/column';
import type { Placed } from '../sweep/placed';
import { IN_BAY, IN_QUEUE, WITH_OWNER } from '../sweep/placed';
import type { Swept } from '../sweep/sweep';

/** One way of telling records apart: by grade, stage, territory or place. */
export class Facet {
  private counted: Uint32Array | null = null;

  /**
   * @param labels what the codes stand for: grades by the keys of their bands, the rest by key; '' is none
   * @param codes by record, a place in `labels`; an array with a buffer of its own
   */
  constructor(
    readonly labels: readonly string[],
    readonly codes: Uint16Array,
  ) {}

  /** How many records have each label. */
  get sizes(): Uint32Array {
    if (this.counted === null) {
      const sizes = new Uint32Array(this.labels.length);
      for (let i = 0; i < this.codes.length; i += 1) {
        const code = this.codes[i] as number;
        sizes[code] = (sizes[code] as number) + 1;
      }
      this.counted = sizes;
    }
    return this.counted;
  }
}

/** The label of records that no set admits, beside '' for those that can't be judged. */
export const NOT_SCORED_LABEL = 'not scored';

export function gradeFacet({ scores, grades }: Swept): Facet {
  const cells = grades.map(({ set: { grid }, fit, engagement }) =>
    cellKey({ fit: grid.fit.bands[fit]?.key ?? '', engagement: grid.engagement.bands[engagement]?.key ?? '' }),
  );
  const labels = ['', ...cells, NOT_SCORED_LABEL];
  return new Facet(labels, new Uint16Array(scores.cell));
}

export function stageFacet({ stages, rules }: Swept, size: number): Facet {
  const codes = new Uint16Array(size);
  stages.forEach((bits, s) => {
    for (let w = 0; w < bits.length; w += 1)
      for (let rest = bits[w] as number; rest !== 0; rest &= rest - 1)
        codes[(w << 5) + 31 - Math.clz32(rest & -rest)] = s + 1;
  });
  return new Facet(['', ...rules.stages.map((stage) => stage.key)], codes);
}

/** Of charters that draw the same territories both have the same column, and the same facet. */
const territoryFacets = new WeakMap<CodeColumn, Facet>();

export function territoryFacet({ territory, charter }: Swept): Facet {
  const known = territoryFacets.get(territory);
  if (known !== undefined) return known;
  const labels = ['', ...charter.charter.territories.list.map((one) => one.key)];
  const facet = new Facet(labels, new Uint16Array(territory.codes));
  territoryFacets.set(territory, facet);
  return facet;
}

/** How a place is written as a label. */
export const BAY_LABEL = 'bay';
export const ownerLabel = (rep: string): string => `owner:${rep}`;
export const queueLabel = (queue: string): string => `queue:${queue}`;

/** Owners, queues and the bay; '' is not handed over. */
export function placeFacet({ places, owner, queue, reps, queues }: Placed): Facet {
  const labels = ['', BAY_LABEL, ...reps.map(ownerLabel), ...queues.map(queueLabel)];
  const codes = new Uint16Array(places.length);
  for (let i = 0; i < codes.length; i += 1) {
    const place = places[i];
    if (place === IN_BAY) codes[i] = 1;
    else if (place === WITH_OWNER) codes[i] = 1 + (owner[i] as number);
    else if (place === IN_QUEUE) codes[i] = 1 + reps.length + (queue[i] as number);
  }
  return new Facet(labels, codes);
}

/** How many records went from one label to another. */
export interface Flow {
  readonly from: string;
  readonly to: string;
  readonly count: number;
}

/** Two facets held against each other. */
export interface FacetChange {
  /** How many records are another thing than before. */
  readonly changed: number;
  readonly flows: readonly Flow[];
}

/** The flows of a facet in which nobody goes anywhere. */
function unchanged({ labels, sizes }: Facet): Flow[] {
  const counts = new Map<string, number>();
  // Grades of two sets may have the same keys.
  labels.forEach((label, code) => counts.set(label, (counts.get(label) ?? 0) + (sizes[code] as number)));
  return [...counts].flatMap(([label, count]) => (count === 0 ? [] : [{ from: label, to: label, count }]));
}

/** Up to this number of pairs of labels are counted in a table, more in a map. */
const MOST_CELLS = 2 ** 14;

/**
 * Counts who went from where to where.
 *
 * @param chosen records that may change; the others stay what they were
 * @param marked is set where a record changed
 */
export function compareFacets(before: Facet, after: Facet, chosen: Bits, marked: Bits): FacetChange {
  if (before === after) return { changed: 0, flows: unchanged(before) };
  const labels = [...new Set([...before.labels, ...after.labels])];
  const place = new Map(labels.map((label, l) => [label, l]));
  const from = Uint16Array.from(before.labels, (label) => place.get(label) ?? 0);
  const to = Uint16Array.from(after.labels, (label) => place.get(label) ?? 0);
  const many = labels.length;
  const stay = new Uint32Array(many);
  // All stay, until one is found that does not.
  before.sizes.forEach((size, code) => {
    const label = from[code] as number;
    // Grades of two sets may have the same keys.
    stay[label] = (stay[label] as number) + size;
  });
  // Of thousands of territories few pairs have a flow between them.
  const moves = many * many <= MOST_CELLS ? new Uint32Array(many * many) : new Map<number, number>();
  // Mostly both mean the same by a code, and most records keep theirs.
  const alike =
    before.labels.length === after.labels.length && before.labels.every((label, l) => label === after.labels[l]);
  markMoved(before.codes, after.codes, alike, from, to, marked);
  for (let w = 0; w < marked.length; w += 1) marked[w] = (marked[w] as number) & (chosen[w] as number);
  eachBit(marked, (i) => {
    const was = from[before.codes[i] as number] as number;
    const cell = was * many + (to[after.codes[i] as number] as number);
    stay[was] = (stay[was] as number) - 1;
    if (moves instanceof Map) moves.set(cell, (moves.get(cell) ?? 0) + 1);
    else moves[cell] = (moves[cell] as number) + 1;
  });
  const cells: (readonly [number, number])[] = Array.from(stay, (count, label) => [label * (many + 1), count] as const);
  moves.forEach((count, cell) => {
    cells.push([cell, count]);
  });
  const flows = cells
    .filter(([, count]) => count > 0)
    .sort(([a], [b]) => a - b)
    .map(([cell, count]): Flow => ({
      from: labels[Math.floor(cell / many)] ?? '',
      to: labels[cell % many] ?? '',
      count,
    }));
  return { changed: countBits(marked), flows };
}

/**
 * Marks the records whose label is another.
 *
 * @param alike both mean the same by a code
 * @param from what the codes before mean
 * @param to what those afterwards mean
 */
function markMoved(
  old: Uint16Array,
  now: Uint16Array,
  alike: boolean,
  from: Uint16Array,
  to: Uint16Array,
  marked: Bits,
): void {
  // Two codes are compared at once.
  const pairs = old.length >> 1;
  const [oldPairs, nowPairs] = [
    new Uint32Array(old.buffer as ArrayBuffer, 0, pairs),
    new Uint32Array(now.buffer as ArrayBuffer, 0, pairs),
  ];
  for (let p = 0; p <= pairs; p += 1) {
    if (alike && p < pairs && oldPairs[p] === nowPairs[p]) continue;
    const end = Math.min(2 * p + 2, old.length);
    for (let i = 2 * p; i < end; i += 1) if (from[old[i] as number] !== to[now[i] as number]) setBit(marked, i);
  }
}
