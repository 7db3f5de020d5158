import { type Condition, mapTests } from '../condition/condition';
import { type Band, BAND_COUNTS } from '../grade/band';
import type { Grid } from '../grade/grid';
import type { ScoreSet } from '../score/score-set';
import type { Axis } from '../signal/signal';
import type { Charter } from './charter';
import { bandKeysOf } from './ready-charter';
import { type RuleMention, rulesNaming, withConditions } from './rule-conditions';

/** The bands that take over the scores, cells and conditions of one that is taken out. */
export interface BandTakeover {
  /** The band next to it that takes over its scores, by key. */
  readonly scores: string;
  /** The band whose verdicts the cells of both then have: the one taken out, or the one that takes over. */
  readonly verdicts: string;
  /** The bands that conditions ask for in its place, by key. */
  readonly conditions: readonly string[];
}

/** Renames a band. Its key stays, so that no record changes. */
export function renameBand(set: ScoreSet, axis: Axis, key: string, name: string): ScoreSet {
  const bands = set.grid[axis].bands.map((band) => (band.key === key ? { ...band, name } : band));
  return withGrid(set, { [axis]: { ...set.grid[axis], bands } });
}

/**
 * Parts a band in two at the middle of its scores: the upper half is the new one, with the verdicts of the band it was.
 *
 * @param key of the band that is parted
 * @param added with a key that no band ever had: keys are not used again
 * @returns null: there are as many bands as an axis may have, or no whole score lies inside the band
 */
export function addBand(set: ScoreSet, axis: Axis, key: string, added: Band): ScoreSet | null {
  const { bands, cuts } = set.grid[axis];
  const at = bands.findIndex((band) => band.key === key);
  const [from, to] = [cuts[at - 1] ?? set[axis].least, cuts[at] ?? set[axis].most];
  const cut = Math.round((from + to) / 2);
  if (at < 0 || bands.length >= BAND_COUNTS[axis][1] || cut <= from || cut >= to) return null;
  return withGrid(set, {
    [axis]: {
      bands: [...bands.slice(0, at + 1), added, ...bands.slice(at + 1)],
      cuts: [...cuts.slice(0, at), cut, ...cuts.slice(at)],
    },
    cells: axis === 'fit' ? doubled(set.grid.cells, at) : set.grid.cells.map((row) => doubled(row, at)),
  });
}

/**
 * The gates, streams and routes that name a band which, taken out of a set, no other set for leads would have.
 */
export function mentionsOfBand(charter: Charter, set: string, axis: Axis, key: string): readonly RuleMention[] {
  const others = { ...charter, scoreSets: charter.scoreSets.filter((one) => one.key !== set) };
  if (bandKeysOf(others, 'lead', axis).includes(key)) return [];
  return rulesNaming(charter, (when) => replaceBand(when, axis, key, []) !== when);
}

/**
 * Takes a band out of a score set.
 *
 * @returns null: an axis would have too few bands, or the band that takes over does not lie next to it
 */
export function takeOutBand(charter: Charter, set: string, axis: Axis, key: string, to: BandTakeover): Charter | null {
  const of = charter.scoreSets.find((one) => one.key === set);
  const changed = of === undefined ? null : withoutBand(of, axis, key, to);
  if (changed === null) return null;
  const mentioned = mentionsOfBand(charter, set, axis, key).length > 0;
  return {
    ...charter,
    scoreSets: charter.scoreSets.map((one) => (one.key === set ? changed : one)),
    ...(mentioned ? withConditions(charter, (when) => replaceBand(when, axis, key, to.conditions)) : {}),
  };
}

function withGrid(set: ScoreSet, change: Partial<Grid>): ScoreSet {
  return { ...set, grid: { ...set.grid, ...change } };
}

function doubled<T>(list: readonly T[], at: number): T[] {
  return list.flatMap((one, i) => (i === at ? [one, one] : [one]));
}

function withoutBand(set: ScoreSet, axis: Axis, key: string, to: BandTakeover): ScoreSet | null {
  const { bands, cuts } = set.grid[axis];
  const at = bands.findIndex((band) => band.key === key);
  const next = bands.findIndex((band) => band.key === to.scores);
  if (bands.length <= BAND_COUNTS[axis][0] || at < 0 || next < 0 || Math.abs(at - next) !== 1) return null;
  // Of the rows of both, the one of the other is left out.
  const out = to.verdicts === key ? next : at;
  const without = <T>(list: readonly T[], place: number): T[] => list.filter((_, i) => i !== place);
  return withGrid(set, {
    [axis]: { bands: without(bands, at), cuts: without(cuts, Math.min(at, next)) },
    cells: axis === 'fit' ? without(set.grid.cells, out) : set.grid.cells.map((row) => without(row, out)),
  });
}

/** A condition that asks for other bands in place of one; the same object where it does not name it. */
function replaceBand(condition: Condition, axis: Axis, key: string, by: readonly string[]): Condition {
  return mapTests(condition, (test) => {
    if (test.subject.kind !== 'band' || test.subject.axis !== axis || test.test !== 'one-of') return test;
    if (!test.values.includes(key)) return test;
    const values = test.values.flatMap((value) => (value === key ? by : [value]));
    return { ...test, values: [...new Set(values)] };
  });
}
