import type { Charter } from '../charter/charter';
import { type Bits, clearBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column } from '../column/column';
import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import { type Coverage, territoryOf } from '../territory/coverage';
import type { Population } from './population';

/** The answers to addresses, by territory: 0 none, else one more than its place; {@link UNJUDGED}: it can't be told. */
type Answers = Int32Array;
const UNASKED = -1;
const UNJUDGED = -2;

/** One part of the address, as a value for each code of its column. */
class Part {
  readonly values: readonly Value[];
  readonly codes: Uint32Array | null;
  private readonly unreadable: Bits | null;

  constructor(column: Column | undefined) {
    const found = column?.kind === 'codes' ? column : null;
    this.codes = found?.codes ?? null;
    this.unreadable = found?.unreadable ?? null;
    // Codes of places are kept in capitals.
    const texts = (found?.dictionary ?? []).map((folded): Value => ({
      ...{ kind: 'text', text: folded.toUpperCase(), folded },
    }));
    this.values = [BLANK, ...texts, { kind: 'unreadable', raw: '', why: '' }];
  }

  get size(): number {
    return this.values.length;
  }

  /** The place of a record's value. */
  at(i: number): number {
    if (this.codes === null) return 0;
    if (this.unreadable !== null && ((this.unreadable[i >>> 5] as number) & (1 << (i & 31))) !== 0)
      return this.size - 1;
    return this.codes[i] as number;
  }
}

/** The territory of every record, as texts: blank on open ground and without an address, unreadable where it can't be told. */
export function territoryColumn(
  population: Population,
  territories: Charter['territories'],
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
  const answer = (c: number, r: number, p: number): number => {
    const found = territoryOf(coverage, null, {
      country: country.values[c] as Value,
      region: region.values[r] as Value,
      postalCode: postalCode.values[p] as Value,
    });
    if (found.found === 'unjudged') return UNJUDGED;
    return found.found === 'covered' ? (codeOf.get(found.territory) ?? 0) : 0;
  };
  // Postal codes are asked only where their country has some claimed: each pair of country and region has one answer for all others.
  const asks = Uint8Array.from(country.values, (value) =>
    value.kind === 'text' && coverage.postalCodes.has(value.text) ? 1 : 0,
  );
  const plain: Answers = new Int32Array(country.size * region.size).fill(UNASKED);
  const detailed = new Map<number, Answers>();
  const codes = new Uint32Array(size);
  let unjudged: Bits | null = null;
  for (let i = 0; i < size; i += 1) {
    const [c, r] = [country.at(i), region.at(i)];
    const pair = c * region.size + r;
    let answers = plain;
    let at = pair;
    let p = 0;
    if (asks[c] === 1 || (c === 0 && r !== 0 && postalCode.size > 2)) {
      p = postalCode.at(i);
      answers = detailed.get(pair) ?? new Int32Array(postalCode.size).fill(UNASKED);
      detailed.set(pair, answers);
      at = p;
    }
    if (answers[at] === UNASKED) answers[at] = answer(c, r, p);
    const found = answers[at] as number;
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
