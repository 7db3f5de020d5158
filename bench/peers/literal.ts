import { COUNTRY_BY_FOLDED_NAME, dayNumber, fold } from '@relvik/core';
import { FIELDS } from '../setting';

/** A literal of a condition as the plain facts hold it. */
export function literal(field: string, value: string): string | number | boolean {
  switch (FIELDS.get(field)?.type) {
    case 'number':
    case 'money':
      return Number(value);
    case 'date':
      return dayNumber(value);
    case 'yes-no':
      return value === 'yes';
    case 'country':
      return fold(COUNTRY_BY_FOLDED_NAME.get(fold(value)) ?? value);
    case undefined:
      return field === 'rank' || field === 'fit' || field === 'engagement' ? Number(value) : fold(value);
    default:
      return fold(value);
  }
}
