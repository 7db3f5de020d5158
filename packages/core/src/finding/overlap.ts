import type { Charter } from '../charter/charter';
import type { TerritoryKey } from '../record/keys';
import {
  type Claim,
  type Coverage,
  coverageOf,
  type Ground,
  type PostalClaims,
  type RangeClaim,
} from '../territory/coverage';
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
    ...ranges.flatMap((one, i): Finding[] => [
      ...overlapOn(range(one), one),
      ...ranges.slice(i + 1).flatMap((other): Finding[] =>
        crossing(one, other)
          ? [
              {
                ...{ code: 'overlap', severity: 'error' },
                ground: range({
                  ...one,
                  from: one.from > other.from ? one.from : other.from,
                  to: one.to < other.to ? one.to : other.to,
                }),
                counts: one.keys[0] as TerritoryKey,
                others: [other.keys[0] as TerritoryKey],
              },
            ]
          : [],
      ),
    ]),
  ];
}

/** Whether two ranges have codes in common, and neither lies inside the other. */
function crosses(a: RangeClaim, b: RangeClaim): boolean {
  if (a.from.length !== b.from.length || a.to < b.from || b.to < a.from) return false;
  return (a.from < b.from && a.to < b.to) || (b.from < a.from && b.to < a.to);
}
