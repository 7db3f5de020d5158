import type { GroundCount } from '@relvik/core';
import { sum } from 'd3';
import { type GroundShape, PROJECTION } from './ground-shapes';

/** A part of the world to look at: degrees west, south, east and north. */
export interface MapView {
  readonly key: string;
  readonly name: string;
  readonly west: number;
  readonly south: number;
  readonly east: number;
  readonly north: number;
}

const WORLD: MapView = { key: 'world', name: 'World', west: -180, south: -56, east: 180, north: 78 };

export const MAP_VIEWS: readonly MapView[] = [
  WORLD,
  { key: 'europe', name: 'Europe', west: -25, south: 34, east: 42, north: 71 },
  { key: 'north-america', name: 'North America', west: -168, south: 12, east: -52, north: 72 },
  { key: 'south-america', name: 'South America', west: -92, south: -56, east: -33, north: 14 },
  { key: 'africa', name: 'Africa', west: -20, south: -36, east: 53, north: 38 },
  { key: 'asia', name: 'Asia', west: 25, south: -11, east: 150, north: 62 },
  { key: 'oceania', name: 'Oceania', west: 110, south: -48, east: 180, north: 2 },
];

/** The part of the world in whose countries most leads are; all of it where there are none. */
export function viewWithMost(counts: readonly GroundCount[], shapes: readonly GroundShape[]): MapView {
  const middles = new Map(shapes.map(({ code, middle }) => [code.slice(0, 2), middle]));
  const leadsIn = (view: MapView): number => {
    const [left, top] = PROJECTION([view.west, view.north]) ?? [0, 0];
    const [right, bottom] = PROJECTION([view.east, view.south]) ?? [0, 0];
    return sum(counts, ({ country, leads }) => {
      const [x, y] = middles.get(country) ?? [-1, -1];
      return x >= left && x <= right && y >= top && y <= bottom ? leads : 0;
    });
  };
  return MAP_VIEWS.filter((view) => view !== WORLD).reduce(
    (best, view) => (leadsIn(view) > (best === WORLD ? 0 : leadsIn(best)) ? view : best),
    WORLD,
  );
}
