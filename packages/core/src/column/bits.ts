/** One bit a record, 32 to the word; bits past the last record are always 0. */
export type Bits = Uint32Array;

/** How many words hold so many records. */
export function wordsFor(size: number): number {
  return (size + 31) >>> 5;
}

export function noBits(size: number): Bits {
  return new Uint32Array(wordsFor(size));
}

export function allBits(size: number): Bits {
  const bits = noBits(size).fill(0xffffffff);
  if ((size & 31) !== 0) bits[bits.length - 1] = (1 << (size & 31)) - 1;
  return bits;
}

export function setBit(bits: Bits, at: number): void {
  bits[at >>> 5] = (bits[at >>> 5] as number) | (1 << (at & 31));
}

export function clearBit(bits: Bits, at: number): void {
  bits[at >>> 5] = (bits[at >>> 5] as number) & ~(1 << (at & 31));
}

export function hasBit(bits: Bits, at: number): boolean {
  return (((bits[at >>> 5] as number) >>> (at & 31)) & 1) === 1;
}

/** How many bits of a word are set. */
export function countWord(word: number): number {
  const pairs = word - ((word >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return (((fours + (fours >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

export function countBits(bits: Bits): number {
  let count = 0;
  for (let w = 0; w < bits.length; w += 1) count += countWord(bits[w] as number);
  return count;
}

/** Those set in both. */
export function both(a: Bits, b: Bits): Bits {
  return a.map((word, w) => word & (b[w] as number));
}

/** Those set in the first and not in the second. */
export function without(a: Bits, b: Bits): Bits {
  return a.map((word, w) => word & ~(b[w] as number));
}

/** How many records are set in both. */
export function countBoth(a: Bits, b: Bits): number {
  let count = 0;
  for (let w = 0; w < a.length; w += 1) count += countWord((a[w] as number) & (b[w] as number));
  return count;
}

/** Calls back with each record whose bit is set, in order; stops when it has called so many times. */
export function eachBit(bits: Bits, visit: (at: number) => void, most = Infinity): void {
  let left = most;
  for (let w = 0; w < bits.length && left > 0; w += 1) {
    for (let word = bits[w] as number; word !== 0 && left > 0; word &= word - 1) {
      visit((w << 5) + 31 - Math.clz32(word & -word));
      left -= 1;
    }
  }
}

/** The places of the words in which any bit is set. */
export function wordsIn(bits: Bits): Uint32Array {
  let count = 0;
  for (let w = 0; w < bits.length; w += 1) if (bits[w] !== 0) count += 1;
  const words = new Uint32Array(count);
  for (let w = 0, k = 0; w < bits.length; w += 1) {
    if (bits[w] === 0) continue;
    words[k] = w;
    k += 1;
  }
  return words;
}

/** For each of the keys the records that carry it. */
export function bitsByKey(codes: Uint32Array, known: readonly string[], keys: readonly string[]): Bits[] {
  const placeOf = Int32Array.of(-1, ...known.map((key) => keys.indexOf(key)));
  const bits = keys.map(() => noBits(codes.length));
  for (let i = 0; i < codes.length; i += 1) {
    const place = placeOf[codes[i] as number] as number;
    if (place >= 0) setBit(bits[place] as Bits, i);
  }
  return bits;
}
