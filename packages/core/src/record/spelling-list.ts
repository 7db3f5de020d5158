import { type Field, takesAnyOption } from './field';
import { countryOfRegion } from './region';

/**
 * The list that a spelling belongs to: countries, the regions of a country, the options that several fields share, or those of one
 * field. Fields of one list recognise the same spellings.
 *
 * @param means what is meant: an option, an alpha-2 code, a region's code
 * @returns null: the field has no list to choose from
 * @example spellingList(stateField, 'US-CA') // 'regions:US'
 */
export function spellingList(field: Field, means: string): string | null {
  switch (field.type) {
    case 'country':
      return 'countries';
    case 'region':
      return `regions:${countryOfRegion(means)}`;
    case 'choice':
    case 'choices':
      if (takesAnyOption(field)) return null;
      return field.optionList === undefined ? `field:${field.key}` : `list:${field.optionList}`;
    default:
      return null;
  }
}

/** The fields that recognise the spellings of a list. */
export function fieldsOfList(fields: Iterable<Field>, list: string): Field[] {
  const country = /^regions:(.*)$/.exec(list)?.[1];
  return [...fields].filter((field) => !field.retired && spellingList(field, `${country ?? ''}-`) === list);
}
