import { COUNTRIES } from './countries.gen';
import { FOREIGN_NAMES } from './country-names.gen';
import { type KeyedName, keyedNames, meaningOf, type Spelling, Spellings } from './spelling';

export interface Country {
  /** ISO 3166-1 alpha-2. */
  readonly code: string;
  readonly name: string;
}

/** Every country by code, in alphabetical order of its English name. */
export const COUNTRY_LIST: readonly Country[] = COUNTRIES.map(([code, , name]) => ({ code, name })).sort((a, b) =>
  a.name < b.name ? -1 : 1,
);

/** Names of everyday use that the standard does not have, and nations inside a country. Common practice, no source. */
const EVERYDAY: readonly (readonly [code: string, ...names: string[]])[] = [
  ['BO', 'Bolivia'],
  ['BN', 'Brunei'],
  ['CD', 'DR Congo', 'Congo Kinshasa'],
  ['CG', 'Congo Brazzaville'],
  ['CI', 'Ivory Coast'],
  ['CV', 'Cabo Verde', 'Cape Verde'],
  ['CZ', 'Czechia', 'Czech Republic'],
  ['FK', 'Falklands'],
  ['GB', 'Great Britain', 'Britain', 'England', 'Scotland', 'Wales', 'Northern Ireland', 'UK', 'U.K.'],
  ['IR', 'Iran'],
  ['KP', 'North Korea'],
  ['KR', 'South Korea', 'Korea'],
  ['LA', 'Laos'],
  ['MD', 'Moldova'],
  ['MK', 'Macedonia', 'North Macedonia'],
  ['MM', 'Burma'],
  ['MO', 'Macau', 'Macao'],
  ['NL', 'Holland', 'The Netherlands'],
  ['PS', 'Palestine'],
  ['RE', 'Réunion'],
  ['RU', 'Russia'],
  ['SY', 'Syria'],
  ['SZ', 'Swaziland', 'Eswatini'],
  ['TL', 'East Timor'],
  ['TR', 'Turkey', 'Türkiye'],
  ['TW', 'Taiwan'],
  ['TZ', 'Tanzania'],
  ['US', 'USA', 'U.S.A.', 'U.S.', 'America', 'United States of America'],
  ['VA', 'Vatican', 'Vatican City'],
  ['VE', 'Venezuela'],
  ['VN', 'Viet Nam', 'Vietnam'],
];

const spelled = (rows: readonly (readonly [string, ...string[]])[]): Spellings =>
  new Spellings(rows.flatMap(([code, ...names]) => names.map((name) => [name, code] as const)));

/** Codes and English names count before names in other languages, of which some mean another country in English. */
const SPELLINGS: readonly Spellings[] = [
  spelled([...COUNTRIES.map(([code, ...rest]) => [code, code, ...rest] as const), ...EVERYDAY]),
  spelled(FOREIGN_NAMES),
];

/**
 * The alpha-2 code of a country as it is written: by its code, its English, everyday or native name, whatever the case, accents and
 * punctuation; `undefined`: it is not recognised.
 *
 * @param own the admin's spellings, for what is recognised by none of these
 * @example countryCode('viet-nam') // 'VN'
 */
export function countryCode(written: string, own?: readonly Spelling[]): string | undefined {
  for (const spellings of SPELLINGS) {
    const found = spellings.find(written);
    if (typeof found === 'string') return found;
    if (found === null) break;
  }
  return meaningOf(own, written);
}

const NAME_BY_CODE: ReadonlyMap<string, string> = new Map(COUNTRY_LIST.map(({ code, name }) => [code, name]));

let keyed: readonly KeyedName[] | null = null;

/** Every name of every country, in English and other languages, in the form in which names are compared. */
export function countryNames(): readonly KeyedName[] {
  const rows = [...COUNTRY_LIST.map(({ code, name }) => [code, name] as const), ...EVERYDAY, ...FOREIGN_NAMES];
  keyed ??= keyedNames(rows.flatMap(([means, ...names]) => names.map((written) => ({ written, means }))));
  return keyed;
}

/** The English name of an alpha-2 code; the code itself when it is none. */
export function countryName(code: string): string {
  return NAME_BY_CODE.get(code) ?? code;
}
