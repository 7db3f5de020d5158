import { type Bits, clearBit, eachBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column } from '../column/column';
import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import { countryOf, type Coverage, territoryOf } from '../territory/coverage';
import type { AddressFields, Drawn } from '../territory/territory';
import { postalAnswers } from './postal-answers';
import type { Population } from './population';

/** Answers by number: 0 no territory, else one more than its place in the list; {@link UNJUDGED}: it can't be told. */
const UNASKED = -1;
const UNJUDGED = -2;

/** One part of the address over all records. */
class Part {
  readonly size: number;
  readonly dictionary: readonly string[];
  /** Of each record: 0 where it is blank, the last place where it can't be read, else as its column has it. */
  readonly places: Uint32Array;

  constructor(column: Column | undefined, records: number) {
    const found = column?.kind === 'codes' ? column : null;
    this.dictionary = found?.dictionary ?? [];
    this.size = this.dictionary.length + 2;
    this.places = found === null ? new Uint32Array(records) : withUnreadable(found, this.size - 1);
  }

  /** The value at a place; codes are upper case in values, folded in columns. */
  value(place: number): Value {
    if (place === 0) return BLANK;
    const folded = this.dictionary[place - 1];
    if (folded === undefined) return { kind: 'unreadable', raw: '', why: '' };
    return { kind: 'text', text: folded.toUpperCase(), folded };
  }

  /** Maps the value at each place to a number. */
  each(of: (value: Value) => number): Uint32Array {
    return Uint32Array.from({ length: this.size }, (_, place) => of(this.value(place)));
  }
}

function withUnreadable({ codes, unreadable }: CodeColumn, last: number): Uint32Array {
  if (unreadable === null) return codes;
  const places = codes.slice();
  eachBit(unreadable, (i) => {
    places[i] = last;
  });
  return places;
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
  const part = (field: string | null): Part => new Part(field === null ? undefined : columns.get(field), size);
  const country = part(territories.field);
  // A region tells the country, too, where that is not given.
  const region = part(territories.regionField);
  const postalCode = part(coverage.postalCodes.size === 0 ? null : territories.postalField);

  // Answers by postal code do not depend on the region: one block for each country with claimed codes, after an empty block.
  const blocks = [new Int32Array(postalCode.size)];
  const blockOf = new Map<string, number>();
  const blockIn = (at: string | null): number => {
    const claims = at === null ? undefined : coverage.postalCodes.get(at);
    if (at === null || claims === undefined) return 0;
    const known = blockOf.get(at);
    if (known !== undefined) return known;
    const answers = new Int32Array(postalCode.size);
    answers.set(
      postalAnswers(postalCode.dictionary, at, claims, (key) => codeOf.get(key) ?? 0),
      1,
    );
    answers[postalCode.size - 1] = UNJUDGED;
    const block = (blocks.push(answers) - 1) * postalCode.size;
    blockOf.set(at, block);
    return block;
  };
  const byCountry = country.each((value) => blockIn(countryOf({ country: value, region: BLANK })));
  const byRegion = region.each((value) => blockIn(countryOf({ country: BLANK, region: value })));
  const told = new Int32Array(blocks.length * postalCode.size);
  blocks.forEach((answers, b) => {
    told.set(answers, b * postalCode.size);
  });

  // Without a claimed postal code there is one answer for each pair of country and region.
  const withoutPostal = { ...coverage, postalCodes: new Map() };
  const plain = new Int32Array(country.size * region.size).fill(UNASKED);
  const answerFor = (c: number, r: number): number => {
    const address = { country: country.value(c), region: region.value(r), postalCode: BLANK };
    const answer = territoryOf(withoutPostal, null, address);
    if (answer.found === 'unjudged') return UNJUDGED;
    return answer.found === 'covered' ? (codeOf.get(answer.territory) ?? 0) : 0;
  };
  const codes = new Uint32Array(size);
  let unjudged: Bits | null = null;
  const [countries, regions, postalCodes] = [country.places, region.places, postalCode.places];
  for (let i = 0; i < size; i += 1) {
    const c = countries[i] as number;
    const r = regions[i] as number;
    const block = (c === 0 ? byRegion[r] : byCountry[c]) as number;
    let found = told[block + (postalCodes[i] as number)] as number;
    if (found === 0) {
      const pair = c * region.size + r;
      if (plain[pair] === UNASKED) plain[pair] = answerFor(c, r);
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
