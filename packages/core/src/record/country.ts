import { COUNTRIES } from './countries.gen';
import { fold } from './fold';

export interface Country {
  /** ISO 3166-1 alpha-2. */
  readonly code: string;
  readonly name: string;
}

/** Every country by code, in alphabetical order of its English name. */
export const COUNTRY_LIST: readonly Country[] = COUNTRIES.map(([code, , name]) => ({ code, name })).sort((a, b) =>
  a.name < b.name ? -1 : 1,
);

/** From folded alpha-2, alpha-3 or English name to alpha-2. */
export const COUNTRY_BY_FOLDED_NAME: ReadonlyMap<string, string> = new Map(
  COUNTRIES.flatMap(([code, alpha3, ...names]) =>
    [code, alpha3, ...names].map((name): [string, string] => [fold(name), code]),
  ),
);

const NAME_BY_CODE: ReadonlyMap<string, string> = new Map(COUNTRY_LIST.map(({ code, name }) => [code, name]));

/** The English name of an alpha-2 code; the code itself when it is none. */
export function countryName(code: string): string {
  return NAME_BY_CODE.get(code) ?? code;
}
