import { distance } from 'fastest-levenshtein';
import { splitChoices } from './choices';
import { countryNames } from './country';
import { type Field, takesAnyOption } from './field';
import { ownSpellings, regionNames } from './region';
import { type KeyedName, keyedNames, spellingKey } from './spelling';

/** One edit is allowed for this many characters. */
const CHARACTERS_PER_EDIT = 3;

/**
 * The likely meaning of a text that a field could not read: the name or spelling fewest edits away, at most one edit for every three
 * characters; null: none is that near, or several meanings are equally near.
 *
 * It is only ever proposed, never applied by itself.
 *
 * @param country alpha-2 of the record's country, for regions; null: unknown
 * @returns an option, an alpha-2 code, or a region's code
 * @example likelyMeaning(countryField, 'Norwey', null) // 'NO'
 */
export function likelyMeaning(field: Field, written: string, country: string | null): string | null {
  const key = spellingKey(unknownPart(field, written));
  let nearest = Math.max(1, Math.floor(key.length / CHARACTERS_PER_EDIT)) + 1;
  let found: string | null = null;
  for (const names of namesIn(field, country))
    for (const { key: name, means } of names) {
      // The lengths alone tell most of those that are too far away.
      if (Math.abs(name.length - key.length) > nearest) continue;
      const edits = distance(key, name);
      if (edits > nearest) continue;
      if (edits < nearest) [nearest, found] = [edits, means];
      else if (found !== means) found = null;
    }
  return found;
}

/** Of a text that names several options the first part that is none; of another text the whole. */
export function unknownPart(field: Field, written: string): string {
  if (field.type !== 'choices') return written;
  const known = new Set([...field.options, ...(field.spellings ?? []).map((one) => one.written)].map(spellingKey));
  return splitChoices(written).find((part) => !known.has(spellingKey(part))) ?? written;
}

/** Lists of the names that a text in a field can stand for. */
function namesIn(field: Field, country: string | null): readonly (readonly KeyedName[])[] {
  const { spellings = [] } = field;
  switch (field.type) {
    case 'choice':
    case 'choices':
      if (takesAnyOption(field)) return [];
      return [keyedNames([...field.options.map((option) => ({ written: option, means: option })), ...spellings])];
    case 'country':
      return [countryNames(), keyedNames(spellings)];
    case 'region':
      return [regionNames(country), keyedNames(ownSpellings(field, country))];
    default:
      return [];
  }
}
