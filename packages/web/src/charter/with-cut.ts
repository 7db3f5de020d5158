import type { Axis } from '@relvik/core';
import type { Change } from './charter.service';

/** The change that moves one cut of an axis. */
export function withCut(axis: Axis, at: number, to: number): Change {
  return (charter) => {
    const { scoreSet } = charter;
    const bands = scoreSet.grid[axis];
    const cuts = bands.cuts.map((cut, i) => (i === at ? to : cut));
    return { ...charter, scoreSet: { ...scoreSet, grid: { ...scoreSet.grid, [axis]: { ...bands, cuts } } } };
  };
}
