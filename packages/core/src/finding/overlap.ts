import type { Charter } from '../charter/charter';
import type { TerritoryKey } from '../record/keys';
import type { Claim, Ground, PostalClaims, RangeClaim } from '../territory/claims';
import { type Coverage, coverageOf } from '../territory/coverage';
import { aroundOf } from '../territory/territory';
import type { Finding } from './finding';

/** Ground that territories cover of which none lies inside another. */
export function overlapsIn(
  { territories: { list } }: Pick<Charter, 'territories'>,
  { countries, regions, postalCodes }: Coverage = coverageOf(list),
): Finding[] {
  const byKey = new Map(list.map((one) => [one.key, one]));
  const crossing = (a: RangeClaim, b: RangeClaim): boolean => {
    const [first, second] = [a.keys[0] as TerritoryKey, b.keys[0] as TerritoryKey];
    return (
      crosses(a, b) &&
      first !== second &&
      !aroundOf(first, byKey).includes(second) &&
      !aroundOf(second, byKey).includes(first)
    );
  };
  return [
    ...[...countries].flatMap(([country, claim]) => overlapOn({ kind: 'country', country }, claim)),
    ...[...regions].flatMap(([region, claim]) => overlapOn({ kind: 'region', region }, claim)),
    ...[...postalCodes].flatMap(([country, claims]) => overlapsOfCodes(country, claims, crossing)),
  ];
}

function overlapOn(ground: Ground, { keys, equal }: Claim): Finding[] {
  const [counts, ...others] = keys.slice(0, equal);
  return counts === undefined || others.length === 0
    ? []
    : [{ code: 'overlap', severity: 'error', ground, counts, others }];
}

function overlapsOfCodes(
  country: string,
  { codes, ranges, prefixes }: PostalClaims,
  crossing: (a: RangeClaim, b: RangeClaim) => boolean,
): Finding[] {
  const range = ({ from, to }: RangeClaim): Ground => ({
    kind: 'postal',
    coverage: { kind: 'range', country, from, to },
  });
  return [
    ...[...codes].flatMap(([code, claim]) =>
      overlapOn({ kind: 'postal', coverage: { kind: 'code', country, code } }, claim),
    ),
    ...[...prefixes].flatMap(([prefix, claim]) =>
      overlapOn({ kind: 'postal', coverage: { kind: 'prefix', country, prefix } }, claim),
    ),
    ...ranges.flatMap((one) => overlapOn(range(one), one)),
    ...crossingPairs(ranges, crossing).map(([one, other]): Finding => ({
      ...{ code: 'overlap', severity: 'error' },
      ground: range({
        ...one,
        from: one.from > other.from ? one.from : other.from,
        to: one.to < other.to ? one.to : other.to,
      }),
      counts: one.keys[0] as TerritoryKey,
      others: [other.keys[0] as TerritoryKey],
    })),
  ];
}

/** The pairs of ranges that cross, the one that counts first. Each range is compared only with those that begin before it ends. */
function crossingPairs(
  ranges: readonly RangeClaim[],
  crossing: (a: RangeClaim, b: RangeClaim) => boolean,
): readonly (readonly [RangeClaim, RangeClaim])[] {
  const places = new Map(ranges.map((range, i) => [range, i]));
  const placeOf = (range: RangeClaim): number => places.get(range) as number;
  const sorted = [...ranges].sort(
    (a, b) => a.from.length - b.from.length || (a.from < b.from ? -1 : a.from > b.from ? 1 : 0),
  );
  const pairs: (readonly [RangeClaim, RangeClaim])[] = [];
  sorted.forEach((one, i) => {
    for (let j = i + 1; j < sorted.length; j += 1) {
      const other = sorted[j] as RangeClaim;
      if (other.from.length !== one.from.length || other.from > one.to) break;
      if (crossing(one, other)) pairs.push(placeOf(one) < placeOf(other) ? [one, other] : [other, one]);
    }
  });
  return pairs.sort((a, b) => placeOf(a[0]) - placeOf(b[0]) || placeOf(a[1]) - placeOf(b[1]));
}

/** Whether two ranges have codes in common, and neither lies inside the other. */
function crosses(a: RangeClaim, b: RangeClaim): boolean {
  if (a.from.length !== b.from.length || a.to < b.from || b.to < a.from) return false;
  return (a.from < b.from && a.to < b.to) || (b.from < a.from && b.to < a.to);
}
