import { countryCode, dayNumber, fold, readKey, type Test } from '@relvik/core';
import { FIELDS } from '../setting';

/** The plain fact of a field: libraries and SQL take a dot for a path. */
export function factOfField(key: string): string {
  return key.replace('.', '_');
}

const FIELD_OF_FACT = new Map([...FIELDS.values()].map((field) => [factOfField(field.key), field]));

/** The plain fact that a test asks about. */
export function factOf(test: Test): string {
  return test.subject.kind === 'currency' ? `${test.subject.field}_currency` : factOfField(readKey(test));
}

/** A literal of a condition as the plain facts hold it. */
export function literal(field: string, value: string): string | number | boolean {
  switch (FIELD_OF_FACT.get(field)?.type) {
    case 'number':
    case 'money':
      return Number(value);
    case 'date':
      return dayNumber(value);
    case 'yes-no':
      return value === 'yes';
    case 'country':
      return fold(countryCode(value) ?? value);
    case undefined:
      if (field.endsWith('_currency')) return value;
      return field === 'rank' || field === 'fit' || field === 'engagement' ? Number(value) : fold(value);
    default:
      return fold(value);
  }
}
