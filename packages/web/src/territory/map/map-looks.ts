import {
  type Charter,
  claimOnGround,
  type Coverage,
  coloursOf,
  countryOfRegion,
  type Ground,
  type GroundCount,
  groundsOf,
  NO_LEADS,
  type Tally,
  tallyBy,
  tallyGrounds,
  type TerritoryKey,
} from '@relvik/core';
import { interpolateLab } from 'd3';
import type { GroundShape } from './ground-shapes';
import { FEW_INK, INKS, MANY_INK, OPEN_INK } from './map-colours';
import type { GroundLook, MapLabel } from './territory-map';

/** Measures that the map can be coloured by. */
export const COLOUR_BY = [
  { key: 'territory', name: 'Territory' },
  { key: 'leads', name: 'Leads' },
  { key: 'won', name: 'Won share' },
  { key: 'load', name: 'Load of the team' },
] as const;
export type ColourBy = (typeof COLOUR_BY)[number]['key'];

/** The data of the map. */
export interface MapFacts {
  readonly territories: Charter['territories']['list'];
  readonly coverage: Coverage;
  /** Of the charter in force. */
  readonly before: Coverage;
  readonly counts: readonly GroundCount[];
  /** Of each team the open leads of its people against their limits together; null: without a limit. */
  readonly loads: ReadonlyMap<string, number | null>;
  readonly colourBy: ColourBy;
}

export interface MapPicture {
  readonly looks: ReadonlyMap<string, GroundLook>;
  readonly labels: readonly MapLabel[];
  /** The ends of the scale in words; null: colours are those of territories. */
  readonly scale: { readonly few: string; readonly many: string } | null;
}

const percent = (share: number): string => `${Math.round(100 * share)} %`;

/** The number that a territory is coloured by; null: there is none. */
function measureOf(
  { colourBy, loads, territories }: MapFacts,
  tallies: ReadonlyMap<string, Tally>,
): (key: TerritoryKey) => number | null {
  const teams = new Map(territories.map(({ key, team }) => [key, team]));
  return (key) => {
    const { leads, won, closed } = tallies.get(key) ?? NO_LEADS;
    switch (colourBy) {
      case 'territory':
        return null;
      case 'leads':
        return leads;
      case 'won':
        return closed === 0 ? null : won / closed;
      case 'load':
        return loads.get(teams.get(key) ?? '') ?? null;
    }
  };
}

/** Colours, hatches, outlines and names of the map. */
export function mapPicture(shapes: readonly GroundShape[], facts: MapFacts): MapPicture {
  const { territories, coverage, before, counts, colourBy } = facts;
  const inks = coloursOf(territories);
  const names = new Map(territories.map(({ key, name }) => [key, name]));
  const byGround = tallyGrounds(counts);
  const byTerritory = tallyBy(counts, ({ territory }) => territory);
  const measure = measureOf(facts, byTerritory);
  const measures = territories.flatMap(({ key }) => measure(key) ?? []);
  const [few, many] = [Math.min(...measures), Math.max(...measures)];
  const shade = interpolateLab(FEW_INK, MANY_INK);
  const inkOf = (key: TerritoryKey): string => {
    if (colourBy === 'territory') return INKS[inks.get(key) ?? 'slate'];
    const value = measure(key);
    return value === null ? OPEN_INK : shade(many === few ? 0.5 : (value - few) / (many - few));
  };
  const looks = new Map<string, GroundLook>();
  const largest = new Map<TerritoryKey, GroundShape>();
  for (const shape of shapes) {
    const { code, name, extent } = shape;
    if (code === '') continue;
    const claim = claimOnGround(coverage, code);
    const key = claim?.keys[0] ?? null;
    const was = claimOnGround(before, code)?.keys[0] ?? null;
    const leads = byGround.get(code)?.leads ?? 0;
    const isOverlap = claim !== null && claim.equal > 1;
    const whose =
      claim === null
        ? 'open ground'
        : claim.keys
            .slice(0, claim.equal)
            .map((one) => names.get(one))
            .join(' and ');
    looks.set(code, {
      ink: key === null ? OPEN_INK : inkOf(key),
      hatch: key === null ? (leads > 0 ? 'open' : null) : isOverlap ? 'overlap' : null,
      moves: key !== was,
      words: `${name}: ${whose}, ${leads} ${leads === 1 ? 'lead' : 'leads'}`,
    });
    if (key === null) continue;
    const known = largest.get(key);
    if (known === undefined || extent > known.extent) largest.set(key, shape);
  }
  const leadsOf = (key: string): number => byTerritory.get(key)?.leads ?? 0;
  const labels = [...largest].map(([key, { middle }]): MapLabel => ({
    ...{ key, at: middle, isOpen: false },
    words: `${names.get(key) ?? key} ${leadsOf(key)}`,
  }));
  labels.sort((a, b) => leadsOf(b.key) - leadsOf(a.key));
  const open = shapes.flatMap(({ code, middle, name }): MapLabel[] =>
    looks.get(code)?.hatch === 'open'
      ? [{ key: `open ${code}`, at: middle, isOpen: true, words: `${name} ${byGround.get(code)?.leads ?? 0}` }]
      : [],
  );
  return { looks, labels: [...labels, ...open], scale: scaleWords(colourBy, few, many, measures.length) };
}

function scaleWords(colourBy: ColourBy, few: number, many: number, known: number): MapPicture['scale'] {
  if (colourBy === 'territory') return null;
  if (known === 0) return { few: 'none known', many: '' };
  const words = (value: number): string => (colourBy === 'leads' ? `${value} leads` : percent(value));
  return { few: words(few), many: words(many) };
}

/** A ground that the map can't draw, and the territory that lists it. */
export interface GroundBeyond {
  /** Alpha-2. */
  readonly country: string;
  readonly ground: Ground;
  readonly territory: TerritoryKey;
}

/** The grounds of territories that the map can't draw, by country: postal codes, and regions without a shape. */
export function groundsBeyond(
  territories: MapFacts['territories'],
  shapes: readonly GroundShape[],
): readonly GroundBeyond[] {
  const drawn = new Set(shapes.map(({ code }) => code));
  const beyond = territories.flatMap((territory) =>
    groundsOf(territory).flatMap((ground): GroundBeyond[] => {
      if (ground.kind === 'country' || (ground.kind === 'region' && drawn.has(ground.region))) return [];
      const country = ground.kind === 'region' ? countryOfRegion(ground.region) : ground.coverage.country;
      return [{ country, ground, territory: territory.key }];
    }),
  );
  return beyond.sort((a, b) => (a.country < b.country ? -1 : a.country > b.country ? 1 : 0));
}
