import { type Bits, clearBit, hasBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column } from '../column/column';
import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import {
  type Address,
  byPostalCode,
  countryOf,
  type Coverage,
  type TerritoryAnswer,
  territoryOf,
} from '../territory/coverage';
import type { AddressFields, Drawn } from '../territory/territory';
import type { Population } from './population';

/** The answers to addresses, by territory: 0 none, else one more than its place; {@link UNJUDGED}: it can't be told. */
type Answers = Int32Array;
const UNASKED = -1;
const UNJUDGED = -2;

/** One part of the address over all records: 0 where it is blank, the last place where it can't be read, else as its column has it. */
class Part {
  readonly size: number;
  private readonly codes: Uint32Array | null;
  private readonly dictionary: readonly string[];
  private readonly unreadable: Bits | null;

  constructor(column: Column | undefined) {
    const found = column?.kind === 'codes' ? column : null;
    this.codes = found?.codes ?? null;
    this.dictionary = found?.dictionary ?? [];
    this.unreadable = found?.unreadable ?? null;
    this.size = this.dictionary.length + 2;
  }

  at(i: number): number {
    if (this.codes === null) return 0;
    if (this.unreadable !== null && hasBit(this.unreadable, i)) return this.size - 1;
    return this.codes[i] as number;
  }

  /** The value at a place; codes are upper case in values, folded in columns. */
  value(place: number): Value {
    if (place === 0) return BLANK;
    const folded = this.dictionary[place - 1];
    if (folded === undefined) return { kind: 'unreadable', raw: '', why: '' };
    return { kind: 'text', text: folded.toUpperCase(), folded };
  }
}

/** The territory of every record, as texts: blank on open ground and without an address, unreadable where it can't be told. */
export function territoryColumn(
  population: Population,
  territories: AddressFields & { readonly list: readonly Pick<Drawn, 'key'>[] },
  coverage: Coverage,
): CodeColumn {
  const keys = territories.list.map((territory) => territory.key);
  const codeOf = new Map<string, number>(keys.map((key, k) => [key, k + 1]));
  const { columns, size } = population;
  const column = (field: string | null): Column | undefined => (field === null ? undefined : columns.get(field));
  const country = new Part(column(territories.field));
  // A region tells the country, too, where that is not given.
  const region = new Part(column(territories.regionField));
  const postalCode = new Part(coverage.postalCodes.size === 0 ? undefined : column(territories.postalField));
  const address = (c: number, r: number, p: number): Address => ({
    country: country.value(c),
    region: region.value(r),
    postalCode: postalCode.value(p),
  });
  const codeFor = (answer: TerritoryAnswer): number => {
    if (answer.found === 'unjudged') return UNJUDGED;
    return answer.found === 'covered' ? (codeOf.get(answer.territory) ?? 0) : 0;
  };
  // The answer of a postal code does not depend on the region: one for each code of a country, and one for each pair of country and region.
  const withoutPostal = { ...coverage, postalCodes: new Map() };
  const plain: Answers = new Int32Array(country.size * region.size).fill(UNASKED);
  const byPostal = new Map<string, Answers>();
  const postalOf = Array.from({ length: country.size * region.size }, (_, pair): Answers | null => {
    const at = countryOf(address(Math.floor(pair / region.size), pair % region.size, 0));
    if (at === null || !coverage.postalCodes.has(at)) return null;
    const answers = byPostal.get(at) ?? new Int32Array(postalCode.size).fill(UNASKED);
    byPostal.set(at, answers);
    return answers;
  });
  const codes = new Uint32Array(size);
  let unjudged: Bits | null = null;
  for (let i = 0; i < size; i += 1) {
    const c = country.at(i);
    const r = region.at(i);
    const pair = c * region.size + r;
    const answers = postalOf[pair] as Answers | null;
    let found = 0;
    if (answers !== null) {
      const p = postalCode.at(i);
      if (answers[p] === UNASKED) {
        const told = byPostalCode(coverage, address(c, r, p));
        answers[p] = told === null ? 0 : codeFor(told);
      }
      found = answers[p] as number;
    }
    if (found === 0) {
      if (plain[pair] === UNASKED) plain[pair] = codeFor(territoryOf(withoutPostal, null, address(c, r, 0)));
      found = plain[pair] as number;
    }
    if (found === UNJUDGED) {
      unjudged ??= noBits(size);
      setBit(unjudged, i);
    } else codes[i] = found;
  }
  const { pin, keys: known } = population.standing;
  const pinned = Uint32Array.of(0, ...known.map((key) => codeOf.get(key as TerritoryKey) ?? 0));
  for (let i = 0; i < size; i += 1) {
    if (pin[i] === 0) continue;
    codes[i] = pinned[pin[i] as number] as number;
    if (unjudged !== null) clearBit(unjudged, i);
  }
  return new CodeColumn(codes, keys.map(fold), unjudged);
}
