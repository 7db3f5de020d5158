import { countryName } from './country';
import { REGIONS } from './regions.gen';
import { type KeyedName, keyedNames, meaningOf, type Spelling, Spellings, spellingKey } from './spelling';

/** A subdivision of a country: a state, a province, a nation. */
export interface Region {
  /** ISO 3166-2, such as `US-CA`. */
  readonly code: string;
  readonly name: string;
  /** The region around it; null: its country alone. */
  readonly around: string | null;
}

/** A region that the admin added under a country. */
export interface OwnRegion {
  /** Its country, a hyphen and at least four letters or digits, which no code of the standard has: `DE-RUHR`. It never changes. */
  readonly code: string;
  readonly name: string;
}

/** The admin's additions to the standard's regions. */
export interface OwnPlaces {
  readonly ownRegions?: readonly OwnRegion[];
  /** Other spellings of regions, by code. */
  readonly spellings?: readonly Spelling[];
}

const OWN_CODE = /^[A-Z]{2}-[A-Z0-9]{4,24}$/;

/** Whether a code can only be that of a region of the admin's own. */
export function isOwnRegion(code: string): boolean {
  return OWN_CODE.test(code);
}

/**
 * A code for a region of the admin's own.
 *
 * @param taken codes that are in use
 * @example ownRegionCode('DE', 'Ruhr', []) // 'DE-RUHR'
 */
export function ownRegionCode(country: string, name: string, taken: readonly string[]): string {
  const plain = spellingKey(name)
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '')
    .slice(0, 20);
  const stem = `${country}-${plain.length < 4 ? `${plain}AREA` : plain}`;
  for (let n = 2, code = stem; ; n += 1) {
    if (!taken.includes(code)) return code;
    code = `${stem}${n}`;
  }
}

export const REGION_LIST: readonly Region[] = REGIONS.map(([code, name, around = null]) => ({ code, name, around }));

const BY_CODE: ReadonlyMap<string, Region> = new Map(REGION_LIST.map((region) => [region.code, region]));

/** The country of a region, by its code. */
export function countryOfRegion(code: string): string {
  return code.slice(0, 2);
}

/** Names with what stands in brackets or after a comma left out, too: "Edinburgh, City of" is Edinburgh. */
function namesOf({ name, code }: Region): string[] {
  const short = name.replace(/\s*[[(].*$/, '').replace(/,.*$/, '');
  return [name, short, code, code.slice(3)];
}

/** English names of regions that the standard calls in their own language alone. Common practice, no source. */
const ENGLISH: readonly (readonly [code: string, ...names: string[]])[] = [
  ['AT-2', 'Carinthia'],
  ['AT-3', 'Lower Austria'],
  ['AT-4', 'Upper Austria'],
  ['AT-6', 'Styria'],
  ['AT-7', 'Tyrol'],
  ['AT-9', 'Vienna'],
  ['DE-BY', 'Bavaria'],
  ['DE-HE', 'Hesse'],
  ['DE-MV', 'Mecklenburg-Western Pomerania'],
  ['DE-NI', 'Lower Saxony'],
  ['DE-NW', 'North Rhine-Westphalia', 'NRW'],
  ['DE-RP', 'Rhineland-Palatinate'],
  ['DE-SN', 'Saxony'],
  ['DE-ST', 'Saxony-Anhalt'],
  ['DE-TH', 'Thuringia'],
  ['ES-AN', 'Andalusia'],
  ['ES-CT', 'Catalonia'],
  ['ES-PV', 'Basque Country'],
];

const byCountry = new Map<string, Spellings>();

/** From spellings to the regions of a country; made when first asked for. */
function spellingsIn(country: string): Spellings {
  const known = byCountry.get(country);
  if (known !== undefined) return known;
  const own = REGION_LIST.filter(({ code }) => countryOfRegion(code) === country);
  const full = own.flatMap((region) => namesOf(region).map((name) => [name, region.code] as const));
  const english = ENGLISH.flatMap(([code, ...names]) =>
    countryOfRegion(code) === country ? names.map((name) => [name, code] as const) : [],
  );
  const made = new Spellings([...outermost(full), ...english]);
  byCountry.set(country, made);
  return made;
}

/** Where a region and those inside it are called the same, the outer one is meant. */
function outermost(spelled: readonly (readonly [string, string])[]): (readonly [string, string])[] {
  const byKey = new Map<string, Set<string>>();
  for (const [name, code] of spelled) {
    const key = spellingKey(name);
    byKey.set(key, (byKey.get(key) ?? new Set()).add(code));
  }
  return [...byKey].flatMap(([name, codes]) => {
    const all = [...codes];
    const outer = all.find((code) => all.every((other) => isInside(other, code)));
    return (outer === undefined ? all : [outer]).map((code) => [name, code] as const);
  });
}

/** Whether a region lies inside another one, or is it. */
function isInside(code: string, around: string): boolean {
  for (let at: string | null = code; at !== null; at = BY_CODE.get(at)?.around ?? null) if (at === around) return true;
  return false;
}

let everywhere: Spellings | null = null;

/** From full names and codes to regions, whatever their country. */
function spellingsEverywhere(): Spellings {
  everywhere ??= new Spellings([
    ...REGION_LIST.flatMap((region) => [region.name, region.code].map((name) => [name, region.code] as const)),
    ...ENGLISH.flatMap(([code, ...names]) => names.map((name) => [name, code] as const)),
  ]);
  return everywhere;
}

export type RegionReading = { readonly ok: true; readonly code: string } | { readonly ok: false; readonly why: string };

/**
 * Reads a region as it is written: by its code with or without the country, or its name.
 *
 * @param country alpha-2 of the record's country; null: unknown, and only what is the name of one region alone is taken
 * @param own the admin's regions and spellings, for what the standard does not tell
 * @example readRegion('california', 'US') // { ok: true, code: 'US-CA' }
 */
export function readRegion(written: string, country: string | null, own: OwnPlaces = {}): RegionReading {
  const standard = readStandard(written, country);
  if (standard.ok) return standard;
  const code = meaningOf(ownSpellings(own, country), written);
  return code === undefined ? standard : { ok: true, code };
}

const ownByCountry = new WeakMap<OwnPlaces, Map<string, readonly Spelling[]>>();
const NONE: readonly Spelling[] = [];

/** The admin's regions with their spellings, of a country or of all. */
export function ownSpellings(own: OwnPlaces, country: string | null): readonly Spelling[] {
  const { ownRegions = [], spellings = NONE } = own;
  if (ownRegions.length === 0 && spellings.length === 0) return NONE;
  const known = ownByCountry.get(own) ?? new Map<string, readonly Spelling[]>();
  ownByCountry.set(own, known);
  const id = country ?? '';
  let made = known.get(id);
  if (made === undefined) {
    const all = [
      ...ownRegions.flatMap(({ code, name }) =>
        [name, code, code.slice(3)].map((written) => ({ written, means: code })),
      ),
      ...spellings,
    ];
    made = country === null ? all : all.filter(({ means }) => countryOfRegion(means) === country);
    known.set(id, made);
  }
  return made;
}

function readStandard(written: string, country: string | null): RegionReading {
  if (country !== null) {
    const found = spellingsIn(country).find(written);
    if (typeof found === 'string') return { ok: true, code: found };
    const where = countryName(country);
    return {
      ok: false,
      why: found === null ? `is the name of several regions of ${where}` : `is not a region of ${where}`,
    };
  }
  const found = spellingsEverywhere().find(written);
  if (typeof found === 'string') return { ok: true, code: found };
  return {
    ok: false,
    why: found === null ? 'is the name of several regions: the country is missing' : 'is not a region',
  };
}

const keyedByCountry = new Map<string, readonly KeyedName[]>();

/** The standard's names of the regions of a country, or of all, in the form in which names are compared. */
export function regionNames(country: string | null): readonly KeyedName[] {
  const id = country ?? '';
  const known = keyedByCountry.get(id);
  if (known !== undefined) return known;
  const named = [...REGION_LIST.map(({ code, name }) => [code, name] as const), ...ENGLISH];
  const made = keyedNames(
    named
      .filter(([code]) => country === null || countryOfRegion(code) === country)
      .flatMap(([means, ...names]) => names.map((written) => ({ written, means }))),
  );
  keyedByCountry.set(id, made);
  return made;
}

/** The regions of a country, the admin's own among them, in alphabetical order of their names. */
export function regionsOf(country: string, ownRegions: readonly OwnRegion[] = []): readonly OwnRegion[] {
  return [...REGION_LIST, ...ownRegions]
    .filter(({ code }) => countryOfRegion(code) === country)
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
}

/** The name of a region; the code itself when it is none. */
export function regionName(code: string, ownRegions: readonly OwnRegion[] = []): string {
  const upper = code.toUpperCase();
  return BY_CODE.get(upper)?.name ?? ownRegions.find((one) => one.code === upper)?.name ?? code;
}

/** A region with its country: "California (US)". */
export function regionLabel(code: string, ownRegions: readonly OwnRegion[] = []): string {
  return `${regionName(code, ownRegions)} (${countryOfRegion(code.toUpperCase())})`;
}

/** A region and those around it, the innermost first; empty where the code is none. The admin's own lie in their country alone. */
export function regionsAround(code: string): readonly string[] {
  if (isOwnRegion(code)) return [code];
  const around: string[] = [];
  for (let at: string | null = code; at !== null && BY_CODE.has(at); at = BY_CODE.get(at)?.around ?? null)
    around.push(at);
  return around;
}

/** Whether a code is that of a region. */
export function isRegion(code: string): boolean {
  return BY_CODE.has(code);
}
