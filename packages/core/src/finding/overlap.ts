import type { Charter } from '../charter/charter';
import { COUNTRY_BY_FOLDED_NAME } from '../record/country';
import { fold } from '../record/fold';
import { coverageOf } from '../territory/coverage';
import { depthOf } from '../territory/territory';
import type { Finding } from './finding';

/** Countries that two territories of one depth cover. */
export function overlapsIn({ territories: { list } }: Charter): Finding[] {
  const byKey = new Map(list.map((territory) => [territory.key, territory]));
  const coverage = coverageOf(list, (country) => COUNTRY_BY_FOLDED_NAME.get(fold(country)));
  return [...coverage].flatMap(([country, claiming]): Finding[] => {
    const depth = Math.max(...claiming.map((key) => depthOf(key, byKey)));
    const [counts, ...others] = claiming.filter((key) => depthOf(key, byKey) === depth);
    return counts === undefined || others.length === 0
      ? []
      : [{ code: 'overlap', severity: 'error', country: country.toUpperCase(), counts, others }];
  });
}
