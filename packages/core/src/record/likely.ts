import { distance } from 'fastest-levenshtein';
import { splitChoices } from './choices';
import { COUNTRY_NAMES } from './country';
import { type Field, takesAnyOption } from './field';
import { regionNames } from './region';
import { type Spelling, spellingKey } from './spelling';

/** One edit for so many characters is taken for a slip. */
const CHARACTERS_PER_SLIP = 3;

/**
 * What was probably meant by a text that a field could not read: the name or spelling that is fewest edits away, one edit for every
 * three characters at most; null: none is near, or several are as near.
 *
 * It is only ever proposed, never applied by itself.
 *
 * @param country alpha-2 of the record's country, for regions; null: unknown
 * @returns an option, an alpha-2 code, or a region's code
 * @example likelyMeaning(countryField, 'Norwey', null) // 'NO'
 */
export function likelyMeaning(field: Field, written: string, country: string | null): string | null {
  const names = namesIn(field, country);
  // Of several options the first that is not known is the one to be judged.
  const key = spellingKey(unknownPart(field, written));
  let near = Math.max(1, Math.floor(key.length / CHARACTERS_PER_SLIP)) + 1;
  let found: string | null = null;
  for (const { written: name, means } of names) {
    const away = distance(key, spellingKey(name));
    if (away > near) continue;
    if (away < near) [near, found] = [away, means];
    else if (found !== means) found = null;
  }
  return found;
}

/** Of a text that names several options the part that is none; of another the whole. */
export function unknownPart(field: Field, written: string): string {
  if (field.type !== 'choices') return written;
  const known = new Set([...field.options, ...(field.spellings ?? []).map((one) => one.written)].map(spellingKey));
  return splitChoices(written).find((part) => !known.has(spellingKey(part))) ?? written;
}

function namesIn(field: Field, country: string | null): readonly Spelling[] {
  const { spellings = [] } = field;
  switch (field.type) {
    case 'choice':
    case 'choices':
      if (takesAnyOption(field)) return [];
      return [...field.options.map((option) => ({ written: option, means: option })), ...spellings];
    case 'country':
      return [...COUNTRY_NAMES, ...spellings];
    case 'region':
      return regionNames(country, field);
    default:
      return [];
  }
}
