import { areaCodes, joinedGround, type World } from './ground-shapes';

/** The properties of a feature. */
export interface TerritoryProperties {
  readonly key: string;
  readonly name: string;
  readonly code: string | null;
  /** All that it covers, as files write it: postal codes, and regions that no map has, are told here alone. */
  readonly covers: readonly string[];
}

/**
 * Territories as GeoJSON (RFC 7946): each with the ground on which it counts, joined; without geometry where no map has it.
 *
 * @param ownerOf the key of the territory that counts on a country or region
 */
export function territoriesAsGeoJson(
  world: World,
  territories: readonly TerritoryProperties[],
  ownerOf: (code: string) => string | null,
): GeoJSON.FeatureCollection<GeoJSON.MultiPolygon | null, TerritoryProperties> {
  const codes = areaCodes(world);
  return {
    type: 'FeatureCollection',
    features: territories.map((properties) => {
      const own = new Set(codes.filter((code) => ownerOf(code) === properties.key));
      return { type: 'Feature', properties, geometry: own.size === 0 ? null : joinedGround(world, own) };
    }),
  };
}
