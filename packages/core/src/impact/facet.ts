import { type Bits, hasBit } from '../sweep/bits';
import type { Placed } from '../sweep/replay';
import { IN_BAY, IN_QUEUE, WITH_OWNER } from '../sweep/replay';
import type { Swept } from '../sweep/sweep';

/** One way of telling records apart: by grade, stage, territory or place. */
export interface Facet {
  /** What the codes stand for: grades by name, the rest by key; '' is none. */
  readonly labels: readonly string[];
  /** By record, a place in `labels`. */
  readonly codes: Uint16Array;
}

export function gradeFacet({ scores, charter }: Swept): Facet {
  const { fit, engagement } = charter.scoreSet.grid;
  const labels = ['', ...fit.names.flatMap((f) => engagement.names.map((e) => `${f} ${e}`))];
  return { labels, codes: new Uint16Array(scores.cell) };
}

export function stageFacet({ stages, charter }: Swept, size: number): Facet {
  const codes = new Uint16Array(size);
  stages.forEach((bits, s) => {
    for (let w = 0; w < bits.length; w += 1)
      for (let rest = bits[w] as number; rest !== 0; rest &= rest - 1)
        codes[(w << 5) + 31 - Math.clz32(rest & -rest)] = s + 1;
  });
  return { labels: ['', ...charter.charter.stages.map((stage) => stage.key)], codes };
}

export function territoryFacet({ territory, charter }: Swept): Facet {
  return {
    labels: ['', ...charter.charter.territories.list.map((one) => one.key)],
    codes: new Uint16Array(territory.codes),
  };
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
  return { labels, codes };
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

/**
 * Counts who went from where to where.
 *
 * @param chosen records that may change; the others stay what they were
 * @param mark called with each record that changed
 */
export function compareFacets(before: Facet, after: Facet, chosen: Bits, mark: (record: number) => void): FacetChange {
  const labels = [...new Set([...before.labels, ...after.labels])];
  const place = new Map(labels.map((label, l) => [label, l]));
  const from = Uint16Array.from(before.labels, (label) => place.get(label) ?? 0);
  const to = Uint16Array.from(after.labels, (label) => place.get(label) ?? 0);
  const counts = new Uint32Array(labels.length * labels.length);
  let changed = 0;
  for (let i = 0; i < before.codes.length; i += 1) {
    const was = from[before.codes[i] as number] as number;
    let is = to[after.codes[i] as number] as number;
    if (is !== was && !hasBit(chosen, i)) is = was;
    const cell = was * labels.length + is;
    counts[cell] = (counts[cell] as number) + 1;
    if (was === is) continue;
    changed += 1;
    mark(i);
  }
  const flows: Flow[] = [];
  counts.forEach((count, cell) => {
    if (count > 0)
      flows.push({
        from: labels[Math.floor(cell / labels.length)] ?? '',
        to: labels[cell % labels.length] ?? '',
        count,
      });
  });
  return { changed, flows };
}
