import type { Field } from './field';
import { unknownPart } from './likely';
import { countryOfRegion } from './region';
import { type Spelling, spellingKey } from './spelling';
import { spellingList } from './spelling-list';
import { readValue, showValue } from './value';

/** A spelling that may be added to a list, with the form in which it is compared. */
export interface ListedSpelling extends Spelling {
  readonly list: string;
  readonly folded: string;
}

export type SpellingReading =
  | { readonly ok: true; readonly spelling: ListedSpelling }
  /** `at`: the text that came, or the one that says what it means; else the field itself. */
  | { readonly ok: false; readonly at: 'field' | 'raw' | 'means'; readonly why: string };

/** Options, countries and regions are read alike on every day. */
const NO_DAY = '2000-01-01';

/**
 * Reads a new spelling for the list of a field. Of a value with several options, the part that is none of them is the spelling.
 *
 * @param raw the text that was not recognised
 * @param means an option, country or region, as people write it
 * @example readSpelling(countryField, 'Norwey', 'Norway') // { ok: true, spelling: { list: 'countries', means: 'NO', … } }
 */
export function readSpelling(field: Field, raw: string, means: string): SpellingReading {
  const refuse = (at: 'field' | 'raw' | 'means', why: string): SpellingReading => ({ ok: false, at, why });
  const meant = readValue(field, means, NO_DAY);
  if (meant.kind === 'unreadable') return refuse('means', meant.why);
  const shown = showValue(meant);
  const list = spellingList(field, shown);
  if (list === null) return refuse('field', 'has no list to choose from');
  if (meant.kind === 'choices' && meant.texts.length > 1) return refuse('means', 'must be one option');
  const written = unknownPart(field, raw);
  const folded = spellingKey(written);
  if (folded === '') return refuse('raw', 'has neither letters nor digits');
  const country = field.type === 'region' ? countryOfRegion(shown) : null;
  const known = readValue({ ...field, spellings: [] }, written, NO_DAY, country);
  if (known.kind !== 'unreadable') return refuse('raw', `stands for ${showValue(known)} already`);
  return { ok: true, spelling: { list, folded, written, means: shown } };
}
