import type { Axis, ScoreSet } from '@relvik/core';

/** The change to a score set that moves one cut of an axis. */
export function withCut(axis: Axis, at: number, to: number): (set: ScoreSet) => ScoreSet {
  return (set) => {
    const bands = set.grid[axis];
    const cuts = bands.cuts.map((cut, i) => (i === at ? to : cut));
    return { ...set, grid: { ...set.grid, [axis]: { ...bands, cuts } } };
  };
}
