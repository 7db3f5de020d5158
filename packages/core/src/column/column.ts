import { dayFrom } from '../record/day';
import { NUMBER_DECIMALS } from '../record/field';
import { currencyDecimals, type Rates } from '../record/money';
import { ascending } from './ascending';
import { type Bits, hasBit, noBits, setBit } from './bits';

/** Up to so many entries in its dictionary, a column keeps the records of each as bits. */
const FEW = 128;

/** Values of which few are distinct (text, choices, countries, yes and no), as codes into a dictionary. */
export class CodeColumn {
  readonly kind = 'codes';
  private readonly bitsOf: Bits[] = [];
  private codeOf: Map<string, number> | null = null;
  private postings: { readonly starts: Uint32Array; readonly order: Uint32Array } | null = null;

  /**
   * @param codes for each record 0 where it is blank or can't be read, else one more than its place in the dictionary
   * @param dictionary folded texts, each once
   * @param unreadable records whose value can't be read; null: none
   */
  constructor(
    readonly codes: Uint32Array,
    readonly dictionary: readonly string[],
    readonly unreadable: Bits | null,
  ) {}

  /** Records whose text passes; asked once for each entry of the dictionary, not for each record. */
  where(passes: (folded: string) => boolean): Bits {
    const bits = noBits(this.codes.length);
    for (let d = 0; d < this.dictionary.length; d += 1)
      if (passes(this.dictionary[d] as string)) this.addCode(d + 1, bits);
    return bits;
  }

  /** Records whose text is one of these, whatever else is in the dictionary. */
  whereOneOf(folded: Iterable<string>): Bits {
    this.codeOf ??= new Map(this.dictionary.map((text, d) => [text, d + 1]));
    const bits = noBits(this.codes.length);
    for (const text of folded) {
      const code = this.codeOf.get(text);
      if (code !== undefined) this.addCode(code, bits);
    }
    return bits;
  }

  /** How many records have each entry of the dictionary, in its order. */
  counts(): number[] {
    const { starts } = this.byCode();
    return this.dictionary.map((_, d) => (starts[d + 2] as number) - (starts[d + 1] as number));
  }

  blanks(): Bits {
    const bits = noBits(this.codes.length);
    this.addCode(0, bits);
    if (this.unreadable !== null)
      for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) & ~(this.unreadable[w] as number);
    return bits;
  }

  private addCode(code: number, into: Bits): void {
    if (this.dictionary.length > FEW) {
      this.setPostings(code, into);
      return;
    }
    const bits = this.bitsByCode()[code] as Bits;
    for (let w = 0; w < into.length; w += 1) into[w] = (into[w] as number) | (bits[w] as number);
  }

  /** For each code its records; all made in one pass when first asked for. */
  private bitsByCode(): readonly Bits[] {
    const { bitsOf, codes } = this;
    if (bitsOf.length > 0) return bitsOf;
    for (let code = 0; code <= this.dictionary.length; code += 1) bitsOf.push(noBits(codes.length));
    for (let i = 0; i < codes.length; i += 1) {
      const bits = bitsOf[codes[i] as number] as Bits;
      bits[i >>> 5] = (bits[i >>> 5] as number) | (1 << (i & 31));
    }
    return bitsOf;
  }

  private setPostings(code: number, into: Bits): void {
    const { starts, order } = this.byCode();
    const end = starts[code + 1] as number;
    for (let k = starts[code] as number; k < end; k += 1) {
      const record = order[k] as number;
      into[record >>> 5] = (into[record >>> 5] as number) | (1 << (record & 31));
    }
  }

  /** Records by code: those with code c are `order[starts[c]]` up to `order[starts[c + 1]]`. Made when first asked for. */
  private byCode(): { readonly starts: Uint32Array; readonly order: Uint32Array } {
    if (this.postings !== null) return this.postings;
    const { codes, dictionary } = this;
    const starts = new Uint32Array(dictionary.length + 2);
    for (let i = 0; i < codes.length; i += 1) {
      const after = (codes[i] as number) + 1;
      starts[after] = (starts[after] as number) + 1;
    }
    for (let c = 1; c < starts.length; c += 1) starts[c] = (starts[c] as number) + (starts[c - 1] as number);
    const next = starts.slice();
    const order = new Uint32Array(codes.length);
    for (let i = 0; i < codes.length; i += 1) {
      const code = codes[i] as number;
      const at = next[code] as number;
      order[at] = i;
      next[code] = at + 1;
    }
    this.postings = { starts, order };
    return this.postings;
  }
}

/** Prefixes of the ranks are kept at every 64th of them. */
const STRIDES = 64;

interface Ranks {
  /** Ascending, one for each record that has a value. */
  readonly sorted: Float64Array;
  /** The records, in the order of `sorted`. */
  readonly order: Uint32Array;
  readonly stride: number;
  /** The k-th holds the records of the first k · stride ranks. */
  readonly prefixes: readonly Bits[];
}

/** Numbers, amounts in the base currency, or days, as whole numbers. */
export class NumberColumn {
  readonly kind = 'numbers';
  private ranks: Ranks | null = null;

  /**
   * @param values for each record its number, NaN where it is blank or can't be read
   * @param unreadable records whose value can't be read; null: none
   */
  constructor(
    readonly values: Float64Array,
    readonly unreadable: Bits | null,
  ) {}

  private ranked(): Ranks {
    this.ranks ??= rank(this.values);
    return this.ranks;
  }

  /** Records whose number lies from `from` up to but without `to`: two prefixes of the ranks, one taken out of the other. */
  between(from: number, to: number): Bits {
    const ranks = this.ranked();
    const low = firstNotBelow(ranks.sorted, from);
    const high = Math.max(low, firstNotBelow(ranks.sorted, to));
    const bits = noBits(this.values.length);
    togglePrefix(bits, ranks, low);
    togglePrefix(bits, ranks, high);
    return bits;
  }

  blanks(): Bits {
    const { values, unreadable } = this;
    const bits = noBits(values.length);
    for (let i = 0; i < values.length; i += 1)
      if (Number.isNaN(values[i]) && (unreadable === null || !hasBit(unreadable, i))) setBit(bits, i);
    return bits;
  }

  /** The smallest and the largest number, or null where there is none. */
  extent(): readonly [least: number, most: number] | null {
    const { sorted } = this.ranked();
    return sorted.length === 0 ? null : [sorted[0] as number, sorted[sorted.length - 1] as number];
  }
}

function firstNotBelow(sorted: Float64Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((sorted[middle] as number) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Lays the records out in the order of their values, those of one value in their own order. */
function rank(values: Float64Array): Ranks {
  const order = ascending(values);
  const sorted = new Float64Array(order.length);
  for (let r = 0; r < order.length; r += 1) sorted[r] = values[order[r] as number] as number;

  const stride = Math.max(1, Math.ceil(sorted.length / STRIDES));
  const prefixes: Bits[] = [noBits(values.length)];
  for (let k = 1; k * stride <= sorted.length; k += 1) {
    const prefix = (prefixes[k - 1] as Bits).slice();
    for (let r = (k - 1) * stride; r < k * stride; r += 1) setBit(prefix, order[r] as number);
    prefixes.push(prefix);
  }
  return { sorted, order, stride, prefixes };
}

/** Flips the records of the first `count` ranks: the nearest kept prefix, then the few between it and the count. */
function togglePrefix(bits: Bits, { order, stride, prefixes }: Ranks, count: number): void {
  const nearest = Math.min(prefixes.length - 1, Math.round(count / stride));
  const prefix = prefixes[nearest] as Bits;
  for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) ^ (prefix[w] as number);
  const from = Math.min(count, nearest * stride);
  const to = Math.max(count, nearest * stride);
  for (let r = from; r < to; r += 1) {
    const record = order[r] as number;
    bits[record >>> 5] = (bits[record >>> 5] as number) ^ (1 << (record & 31));
  }
}

/** More days than the calendar's years of four digits have. */
const DAYS = 2 ** 24;

/** Amounts as they were entered: any charter's base currency can be asked for. */
export class MoneyColumn {
  readonly kind = 'money';

  /**
   * @param minor for each record its amount in the currency's smallest unit, NaN where it is blank or can't be read
   * @param entered the day on which it was entered, as a day number; where there is no amount, any
   */
  constructor(
    readonly minor: Float64Array,
    readonly entered: Int32Array,
    readonly currencies: CodeColumn,
  ) {}

  /** As they were entered, in whatever currency, with four decimals. */
  asEntered(): NumberColumn {
    const { minor, currencies } = this;
    const units = [1, ...currencies.dictionary.map((code) => 10 ** (NUMBER_DECIMALS - (currencyDecimals(code) ?? 0)))];
    const amounts = Float64Array.from(minor, (amount, i) => amount * (units[currencies.codes[i] as number] as number));
    return new NumberColumn(amounts, currencies.unreadable);
  }

  /** In the smallest unit of a base currency. An amount without a rate counts as unreadable here, and only here. */
  inBase(rates: Rates, base: string): NumberColumn {
    const { minor, entered, currencies } = this;
    const amounts = new Float64Array(minor.length).fill(NaN);
    const unreadable = currencies.unreadable?.slice() ?? noBits(minor.length);
    const conversions = new Map<number, (minor: number) => number | null>();
    for (let i = 0; i < minor.length; i += 1) {
      const amount = minor[i] as number;
      if (Number.isNaN(amount)) continue;
      const [code, day] = [currencies.codes[i] as number, entered[i] as number];
      const key = code * DAYS + day;
      let convert = conversions.get(key);
      if (convert === undefined) {
        convert = rates.conversion(currencies.dictionary[code - 1] ?? '', dayFrom(day), base);
        conversions.set(key, convert);
      }
      const inBase = convert(amount);
      if (inBase === null) setBit(unreadable, i);
      else amounts[i] = inBase;
    }
    return new NumberColumn(amounts, unreadable.some((word) => word !== 0) ? unreadable : null);
  }
}

export type Column = CodeColumn | NumberColumn | MoneyColumn;
