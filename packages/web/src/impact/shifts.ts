import { BAY_LABEL, type Charter, type FacetChange, type Names, type OwnerImpact, stagesOf } from '@relvik/core';
import { difference, labelWords } from './impact-words';

/** How many are in one place, in force and in the draft. */
export interface Shift {
  readonly key: string;
  readonly name: string;
  readonly before: number;
  readonly after: number;
  /** The difference in words; null for none. */
  readonly change: string | null;
  /** The most that may be there; null: no limit. */
  readonly limit: number | null;
}

/** As many rows as a picture holds. */
const ROWS = 9;

function shift(key: string, name: string, before: number, after: number, limit: number | null = null): Shift {
  return { key, name, before, after, change: difference({ before, after }), limit };
}

/** How many had a label, and have it now. */
export interface Standing {
  readonly before: number;
  readonly after: number;
}

const NOBODY: Standing = { before: 0, after: 0 };

/** How many had each label and have it now. */
export function standings({ flows }: FacetChange): ReadonlyMap<string, Standing> {
  const counts = new Map<string, Standing>();
  const add = (label: string, before: number, after: number): void => {
    const known = counts.get(label) ?? NOBODY;
    counts.set(label, { before: known.before + before, after: known.after + after });
  };
  for (const { from, to, count } of flows) {
    add(from, count, 0);
    add(to, 0, count);
  }
  return counts;
}

/** The same of one label. */
export function standing(change: FacetChange, label: string): Standing {
  return standings(change).get(label) ?? NOBODY;
}

/**
 * Those that change most, and after them the fullest, in the order given.
 *
 * @param always the key of one that is shown however few are there
 */
function telling(all: readonly Shift[], always: string | null = null): Shift[] {
  const filled = all.filter(({ before, after }) => before > 0 || after > 0);
  const moved = ({ before, after }: Shift): number => Math.abs(after - before);
  const isKept = ({ key }: Shift): boolean => key === always;
  const kept = new Set(
    [...filled]
      .sort((a, b) => Number(isKept(b)) - Number(isKept(a)) || moved(b) - moved(a) || b.before - a.before)
      .slice(0, ROWS),
  );
  return filled.filter((one) => kept.has(one));
}

/** Stages along the path that the draft draws, those only in force after them. */
export function stageShifts(change: FacetChange, before: Charter | null, after: Charter | null, names: Names): Shift[] {
  const keys = new Set(
    [after, before].flatMap((charter) => (charter ? stagesOf(charter, 'lead') : [])).map(({ key }) => key),
  );
  const all = standings(change);
  return telling(
    [...keys].map((key) => {
      const counts = all.get(key) ?? NOBODY;
      return shift(key, labelWords('stage', key, names), counts.before, counts.after);
    }),
  );
}

/** Territories by name, open ground last. */
export function territoryShifts(change: FacetChange, names: Names): Shift[] {
  const all = [...standings(change)].map(([key, { before, after }]) =>
    shift(key, key === '' ? 'Open ground' : names.territory(key), before, after),
  );
  const sorted = all.sort((a, b) => Number(a.key === '') - Number(b.key === '') || a.name.localeCompare(b.name));
  return telling(sorted, '');
}

/** The bay, then the open leads of people against their limits. */
export function loadShifts({ owners, loads }: OwnerImpact, names: Names): Shift[] {
  const bay = standing(owners, BAY_LABEL);
  const people = loads
    .map(({ rep, before, after, limit }) => shift(`owner:${rep}`, names.rep(rep), before, after, limit))
    .sort((a, b) => a.name.localeCompare(b.name));
  return telling([shift(BAY_LABEL, 'Bay', bay.before, bay.after), ...people]);
}
