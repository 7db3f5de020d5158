import { countryCode, countryName, regionName } from '@relvik/core';
import { extent, geoMercator, geoPath, greatest } from 'd3';
import { feature, merge } from 'topojson-client';
import type { GeometryCollection, MultiPolygon, Polygon, Topology } from 'topojson-specification';

type Areas = GeometryCollection<{ readonly gu?: string }>;

/** Countries, and the states and provinces of four of them. Ids of countries are alpha-3, `gu` is the country of a subdivision. */
export type World = Topology<{ readonly countries: Areas; readonly subunits: Areas }>;

/** A country or region as it is drawn. */
export interface GroundShape {
  /** Alpha-2 or ISO 3166-2; empty: ground that has neither. */
  readonly code: string;
  readonly name: string;
  readonly path: string;
  /** The middle of its largest part, where its name stands. */
  readonly middle: readonly [x: number, y: number];
  /** How far that part reaches, to compare. */
  readonly extent: number;
}

export const MAP_WIDTH = 560;
export const MAP_HEIGHT = 430;

/** The projection of the whole picture: without the far south, where nobody lives. */
export const PROJECTION = geoMercator()
  .scale(MAP_WIDTH / (2 * Math.PI))
  .translate([MAP_WIDTH / 2, 292])
  // Borders have points enough: between them straight lines do.
  .precision(0);

/** Subdivisions that the map calls otherwise than the standard does. */
const AUSTRALIAN: Readonly<Record<string, string>> = { QL: 'QLD', TS: 'TAS', VI: 'VIC', NS: 'NSW', CT: 'ACT' };
/** Antarctica is off the picture. */
const LEFT_OUT = 'ATA';

interface Area {
  readonly code: string;
  readonly geometry: Polygon | MultiPolygon;
}

/** The areas drawn, by code: the regions of a country where the file has them, else the country. */
function areasOf({ objects }: World): Area[] {
  const isArea = (one: Areas['geometries'][number]): one is (Polygon | MultiPolygon) & typeof one =>
    one.type === 'Polygon' || one.type === 'MultiPolygon';
  const regions = objects.subunits.geometries.filter(isArea).map((geometry): Area => {
    const country = countryCode(geometry.properties?.gu ?? '') ?? '';
    const id = String(geometry.id);
    return { geometry, code: `${country}-${country === 'AU' ? (AUSTRALIAN[id] ?? id) : id}` };
  });
  const divided = new Set(regions.map(({ code }) => code.slice(0, 2)));
  const countries = objects.countries.geometries
    .filter(isArea)
    .filter(({ id }) => id !== LEFT_OUT)
    .map((geometry): Area => ({ geometry, code: countryCode(String(geometry.id)) ?? '' }))
    .filter(({ code }) => !divided.has(code));
  return [...countries, ...regions];
}

/** The codes of all ground that has a shape. */
export function areaCodes(world: World): readonly string[] {
  return areasOf(world).flatMap(({ code }) => (code === '' ? [] : [code]));
}

/** Everything that the map draws, projected. */
export function shapesOf(world: World): GroundShape[] {
  const path = geoPath(PROJECTION).digits(2);
  return areasOf(world).map(({ code, geometry }) => {
    const parts = feature(world, { type: 'GeometryCollection', geometries: [geometry] }).features.flatMap(
      ({ geometry: one }) =>
        one.type === 'MultiPolygon' ? one.coordinates : one.type === 'Polygon' ? [one.coordinates] : [],
    );
    const largest = greatest(parts, (a, b) => extentOf(a) - extentOf(b)) ?? [];
    return {
      code,
      name: code.includes('-') ? regionName(code) : countryName(code),
      path: path({ type: 'MultiPolygon', coordinates: parts }) ?? '',
      middle: path.centroid({ type: 'Polygon', coordinates: largest }),
      extent: extentOf(largest),
    };
  });
}

/** The area of the box around a polygon, in square degrees: enough to tell the largest. */
function extentOf([ring = []]: GeoJSON.Position[][]): number {
  const [west = 0, east = 0] = extent(ring, ([longitude]) => longitude);
  const [south = 0, north = 0] = extent(ring, ([, latitude]) => latitude);
  return (east - west) * (north - south);
}

/** The geometry of several grounds as one, in degrees, as GeoJSON (RFC 7946) wants it: outer rings go counterclockwise. */
export function joinedGround(world: World, codes: ReadonlySet<string>): GeoJSON.MultiPolygon {
  const own = areasOf(world).filter(({ code }) => codes.has(code));
  const { coordinates } = merge(
    world,
    own.map(({ geometry }) => geometry),
  );
  return {
    type: 'MultiPolygon',
    coordinates: coordinates.map((rings) => rings.map((ring) => ring.toReversed())),
  };
}
