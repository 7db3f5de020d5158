import { countryName, type Field, groupDigits, regionName } from '@relvik/core';

/** A stored value as people read it; of a field that is not known any more as it is. */
export function shownAs(field: Pick<Field, 'type' | 'ownRegions'> | undefined, raw: string): string {
  switch (field?.type) {
    case 'country':
      return countryName(raw);
    case 'region':
      return regionName(raw, field.ownRegions);
    case 'number':
    case 'money':
      return groupDigits(raw);
    default:
      return raw;
  }
}
