import { postcodeValidator, postcodeValidatorExistsForCountry } from 'postcode-validator';
import { countryName } from './country';

export type PostalReading = { readonly ok: true; readonly code: string } | { readonly ok: false; readonly why: string };

/** The longest postal code that is kept where its country's form is not known. */
const LONGEST = 16;

/**
 * The form in which postal codes are kept and compared: upper case, without blanks and hyphens; of the United States the first five
 * digits.
 *
 * @example postalForm('sw1a 1aa', 'GB') // 'SW1A1AA'
 */
export function postalForm(written: string, country: string | null): string {
  const compact = written
    .normalize('NFKC')
    .toUpperCase()
    .replace(/[\s-]+/g, '');
  return country === 'US' && /^\d{9}$/.test(compact) ? compact.slice(0, 5) : compact;
}

/**
 * Reads a postal code.
 *
 * @param country alpha-2 of the record's country, whose form it must have; null: unknown, and any form is taken
 */
export function readPostalCode(written: string, country: string | null): PostalReading {
  const code = postalForm(written, country);
  if (!/^[0-9A-Z]+$/.test(code) || code.length > LONGEST) return { ok: false, why: 'is not a postal code' };
  if (country === null || !postcodeValidatorExistsForCountry(country)) return { ok: true, code };
  const fits = [written.trim().toUpperCase(), code].some((one) => postcodeValidator(one, country));
  return fits ? { ok: true, code } : { ok: false, why: `is not a postal code of ${countryName(country)}` };
}
