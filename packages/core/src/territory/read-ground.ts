import { countryCode } from '../record/country';
import { postalForm, readPostalCode } from '../record/postal-code';
import { isRegion, type OwnPlaces, readRegion } from '../record/region';
import type { Ground } from './claims';

/** A line of pasted text and the ground that it names; null: it is not recognised. */
export interface ReadGround {
  readonly written: string;
  readonly ground: Ground | null;
}

/**
 * Reads grounds as people list them: one a line, or with commas, semicolons or tabs between. A country by code or name; a region by code or
 * name, of a country where that stands before it; postal codes with their country: one, all that begin alike, or a range.
 *
 * @param own the admin's regions and spellings
 * @example readGrounds('Norway; US-CA; DE 80331; DE 80*; DE 80000-81999')
 */
export function readGrounds(text: string, own: OwnPlaces = {}): ReadGround[] {
  return text
    .split(/[\n\r\t,;]+/)
    .map((written) => written.trim())
    .filter((written) => written !== '')
    .map((written) => ({ written, ground: readGround(written, own) }));
}

function readGround(written: string, own: OwnPlaces): Ground | null {
  const upper = written.toUpperCase();
  if (isRegion(upper)) return { kind: 'region', region: upper };
  const country = countryCode(written);
  if (country !== undefined) return { kind: 'country', country };
  const region = readRegion(written, null, own);
  if (region.ok) return { kind: 'region', region: region.code };
  // The longest beginning that names a country is the country of the rest.
  const words = written.split(/\s+/);
  for (let n = words.length - 1; n > 0; n -= 1) {
    const of = countryCode(words.slice(0, n).join(' '));
    if (of === undefined) continue;
    const rest = words.slice(n).join(' ');
    const within = readRegion(rest, of, own);
    if (within.ok) return { kind: 'region', region: within.code };
    return postalGround(of, rest);
  }
  return null;
}

function postalGround(country: string, written: string): Ground | null {
  const form = (code: string): string => postalForm(code, country);
  const isCode = (code: string): boolean => /^[0-9A-Z]{1,16}$/.test(code) && /\d/.test(code);
  const prefix = /^(.+?)(?:\*|…|\.{3})$/.exec(written)?.[1];
  if (prefix !== undefined)
    return isCode(form(prefix))
      ? { kind: 'postal', coverage: { kind: 'prefix', country, prefix: form(prefix) } }
      : null;
  const [, low, high] = /^(.+?)\s*(?:–|-|\bto\b)\s*(.+)$/.exec(written) ?? [];
  if (low !== undefined && high !== undefined) {
    const [from, to] = [form(low), form(high)];
    if (isCode(from) && isCode(to) && from.length === to.length && from <= to)
      return { kind: 'postal', coverage: { kind: 'range', country, from, to } };
  }
  const single = readPostalCode(written, country);
  return single.ok && isCode(single.code)
    ? { kind: 'postal', coverage: { kind: 'code', country, code: single.code } }
    : null;
}
