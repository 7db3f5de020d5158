import { countryName } from '../record/country';
import { type OwnRegion, regionLabel } from '../record/region';
import type { Ground } from './claims';
import type { PostalCoverage } from './territory';

/** Postal codes of a coverage as people write them: "80331", "80…", "80000–81999". */
export function postalWords(coverage: PostalCoverage): string {
  switch (coverage.kind) {
    case 'code':
      return coverage.code;
    case 'prefix':
      return `${coverage.prefix}…`;
    case 'range':
      return `${coverage.from}–${coverage.to}`;
  }
}

/** A ground as people call it: "Germany", "California (US)", "80000–81999 (DE)". */
export function groundWords(ground: Ground, ownRegions: readonly OwnRegion[] = []): string {
  switch (ground.kind) {
    case 'country':
      return countryName(ground.country);
    case 'region':
      return regionLabel(ground.region, ownRegions);
    case 'postal':
      return `${postalWords(ground.coverage)} (${ground.coverage.country})`;
  }
}
