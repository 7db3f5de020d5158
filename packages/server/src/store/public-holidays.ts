import Holidays from 'date-holidays';
import type { Day } from '@relvik/core';

const DAY = 86_400_000;
/** Years before and after this one for which they are known: as far back as records are looked at, as far ahead as days off are planned. */
const [BACK, AHEAD] = [3, 3];

const kept = new Map<string, readonly Day[]>();

/**
 * The public holidays of a place, in order, each once: a day that is kept on another is off on both.
 *
 * @param place a country, `NO`, or a part of one, `DE-BY`
 */
export function publicHolidays(place: string, year: number): readonly Day[] {
  const name = `${place} ${year}`;
  const known = kept.get(name);
  if (known !== undefined) return known;
  const [country = '', ...part] = place.split('-');
  const library = new Holidays(country, part.join('-'));
  const days = new Set<Day>();
  for (let of = year - BACK; of <= year + AHEAD; of += 1)
    for (const { type, date, start, end } of library.getHolidays(of))
      if (type === 'public')
        for (let n = 0; n < Math.max(1, Math.round((end.getTime() - start.getTime()) / DAY)); n += 1)
          days.add(new Date(Date.parse(`${date.slice(0, 10)}T00:00:00Z`) + n * DAY).toISOString().slice(0, 10));
  const found = [...days].sort();
  kept.set(name, found);
  return found;
}

/** The places whose public holidays are known: countries, or the parts of one, by key with their names; none of what is no country. */
export function holidayPlaces(country: string | null): { readonly key: string; readonly name: string }[] {
  return Object.entries(namesIn(country) ?? {}).map(([key, name]) => ({
    key: country === null ? key : `${country}-${key}`,
    name,
  }));
}

/** @returns undefined: there is no such country, or it has no parts (the library's types don't say so) */
function namesIn(country: string | null): Readonly<Record<string, string>> | undefined {
  const library = new Holidays();
  return country === null ? library.getCountries('en') : library.getStates(country, 'en');
}

/** Whether the public holidays of a place are known. */
export function isHolidayPlace(place: string): boolean {
  const [country = '', ...part] = place.split('-');
  if (!holidayPlaces(null).some(({ key }) => key === country)) return false;
  return part.length === 0 || holidayPlaces(country).some(({ key }) => key === place);
}
