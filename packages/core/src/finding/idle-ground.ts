import type { Charter } from '../charter/charter';
import { rulesAskingForTerritory } from '../charter/edit-territories';
import { type Claim, type Ground, groundsOf } from '../territory/claims';
import { claimAround, claimOnRegion, type Coverage, coverageOf } from '../territory/coverage';
import type { PostalCoverage } from '../territory/territory';
import type { Finding } from './finding';

/** Ground that a territory lists though wider ground of the same territory includes it, with no other territory's between. */
export function swallowedIn(
  { territories: { list } }: Pick<Charter, 'territories'>,
  coverage: Coverage = coverageOf(list),
): Finding[] {
  return list.flatMap((territory) =>
    groundsOf(territory).flatMap((ground): Finding[] =>
      wider(coverage, ground)?.keys[0] === territory.key && holds(coverage, ground, territory.key)
        ? [{ code: 'swallowed', severity: 'warning', ground, territory: territory.key }]
        : [],
    ),
  );
}

/** Whether a territory is the one that counts on a ground. */
function holds(coverage: Coverage, ground: Ground, key: string): boolean {
  switch (ground.kind) {
    case 'country':
      return coverage.countries.get(ground.country)?.keys[0] === key;
    case 'region':
      return claimOnRegion(coverage, ground.region)?.keys[0] === key;
    case 'postal': {
      const claims = coverage.postalCodes.get(ground.coverage.country);
      const own = ground.coverage;
      if (claims === undefined) return false;
      switch (own.kind) {
        case 'code':
          return claims.codes.get(own.code)?.keys[0] === key;
        case 'prefix':
          return claims.prefixes.get(own.prefix)?.keys[0] === key;
        case 'range':
          return claims.ranges.find(({ from, to }) => from === own.from && to === own.to)?.keys[0] === key;
      }
    }
  }
}

/** The claim that would count on a ground if nobody named it; null: none, or it can't be told. */
function wider(coverage: Coverage, ground: Ground): Claim | null {
  switch (ground.kind) {
    case 'country':
      return null;
    case 'region':
      return claimAround(coverage, ground.region);
    case 'postal':
      return widerPostal(coverage, ground.coverage);
  }
}

function widerPostal(coverage: Coverage, own: PostalCoverage): Claim | null {
  const claims = coverage.postalCodes.get(own.country);
  if (claims === undefined) return null;
  const [from, to] =
    own.kind === 'code' ? [own.code, own.code] : own.kind === 'range' ? [own.from, own.to] : [own.prefix, own.prefix];
  if (own.kind !== 'prefix') {
    const range = claims.ranges.find(
      (one) =>
        one.from.length === from.length && one.from <= from && one.to >= to && (one.from !== from || one.to !== to),
    );
    if (range !== undefined) return range;
  }
  // Between a prefix and a range that crosses it nothing is told.
  if (own.kind === 'prefix' && claims.ranges.some((one) => one.from.startsWith(from) || one.to.startsWith(from)))
    return null;
  for (let length = own.kind === 'prefix' ? from.length - 1 : from.length; length > 0; length -= 1) {
    const prefix = from.slice(0, length);
    const claim = claims.prefixes.get(prefix);
    if (claim !== undefined && to.startsWith(prefix)) return claim;
  }
  // In which region a code lies is not known: its country tells only where no region of it is covered.
  const isPlain = !coverage.withRegions.has(own.country);
  return isPlain ? (coverage.countries.get(own.country) ?? null) : null;
}

/** Territories with ground for which no rule asks, by themselves or by one around them. */
export function unusedTerritories(charter: Charter): Finding[] {
  return charter.territories.list.flatMap((territory): Finding[] =>
    groundsOf(territory).length > 0 && rulesAskingForTerritory(charter, territory.key).length === 0
      ? [{ code: 'territory-unused', severity: 'warning', territory: territory.key }]
      : [],
  );
}
