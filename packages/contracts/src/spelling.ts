import { array, boolean, object, string } from 'yup';
import { keyText, trimmed } from './text';
import type { UnjudgedRow } from './unjudged';

/** The most characters of a spelling. */
const LONGEST = 190;

/** Adds a spelling of an option, country or region; values that wait with it are corrected. */
export const takeSchema = object({
  field: keyText().required(),
  raw: trimmed().required().max(LONGEST),
  means: trimmed().required('Say what it stands for').max(LONGEST),
}).exact();
export interface Take {
  readonly field: string;
  readonly raw: string;
  readonly means: string;
}

/** The effect of adding it. */
export interface TakePreview {
  /** Records whose value would be corrected, by field. */
  readonly corrects: readonly { readonly field: string; readonly records: number; readonly inBay: number }[];
  /** Records that have the same text, but of another country, by which it stays unrecognised. */
  readonly others: number;
}

export interface SpellingRow {
  /** `countries`, `regions:US`, `list:industries`, `field:industry`. */
  readonly list: string;
  readonly written: string;
  readonly means: string;
  /** How many values it corrected. */
  readonly corrected: number;
}

export interface Taken {
  readonly spelling: Pick<SpellingRow, 'list' | 'written' | 'means'>;
  readonly corrected: number;
  readonly rows: readonly UnjudgedRow[];
}

/** A spelling is taken back; what it corrected, and nobody changed since, becomes again what it was. */
export const takeBackSchema = object({
  list: string().required().max(56),
  written: trimmed().required().max(LONGEST),
}).exact();
export interface TakeBack {
  readonly list: string;
  readonly written: string;
}
export interface TakenBack {
  readonly restored: number;
  readonly spellings: readonly SpellingRow[];
  readonly rows: readonly UnjudgedRow[];
}

/** Spellings from a file. With `apply` they come into force, without it only said what they would change. */
export const spellingsFileSchema = object({
  rows: array(
    object({
      list: string().defined().max(200),
      written: string().defined().max(2000),
      means: string().defined().max(2000),
    }),
  )
    .required()
    .max(5000),
  apply: boolean().required(),
}).exact();
export interface SpellingsFile {
  readonly rows: readonly { readonly list: string; readonly written: string; readonly means: string }[];
  readonly apply: boolean;
}
export interface SpellingsRead {
  readonly fresh: number;
  /** Known spellings that get another meaning. */
  readonly changed: readonly { readonly written: string; readonly from: string; readonly to: string }[];
  readonly known: number;
  /** `row` counts from 1, without the heading. */
  readonly problems: readonly { readonly row: number; readonly message: string }[];
  /** Of values that waited, how many were corrected. */
  readonly corrected: number;
  readonly spellings: readonly SpellingRow[];
}

export const ownRegionSchema = object({
  country: string().required('Choose a country').length(2),
  name: trimmed().required('Give it a name').max(120),
}).exact();
export interface NewOwnRegion {
  readonly country: string;
  readonly name: string;
}
export const renameRegionSchema = object({ name: trimmed().required('Give it a name').max(120) }).exact();
/** A path that names a region of the admin's own. */
export const regionPlaceSchema = object({ code: string().required().max(27) });
