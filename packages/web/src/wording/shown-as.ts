import { countryName, type FieldType, groupDigits, regionName } from '@relvik/core';

/** A stored value as people read it. */
export function shownAs(type: FieldType, raw: string): string {
  switch (type) {
    case 'country':
      return countryName(raw);
    case 'region':
      return regionName(raw);
    case 'number':
    case 'money':
      return groupDigits(raw);
    default:
      return raw;
  }
}
