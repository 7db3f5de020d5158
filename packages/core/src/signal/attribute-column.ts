import type { Bits } from '../column/bits';
import type { Micro } from './points';

/** Adds points where a bit is set. */
export function addWhere(sums: Float64Array, bits: Bits, points: Micro, touched: Bits): void {
  if (points === 0) return;
  for (let w = 0; w < bits.length; w += 1) {
    const word = bits[w] as number;
    if (word === 0) continue;
    touched[w] = (touched[w] as number) | word;
    const base = w << 5;
    for (let rest = word; rest !== 0; rest &= rest - 1) {
      const i = base + 31 - Math.clz32(rest & -rest);
      sums[i] = (sums[i] as number) + points;
    }
  }
}

/** Takes points from where only the old mask is set and adds them where only the new one is. */
export function exchangeWhere(sums: Float64Array, before: Bits, after: Bits, points: Micro, touched: Bits): void {
  for (let w = 0; w < before.length; w += 1) {
    const changed = (before[w] as number) ^ (after[w] as number);
    if (changed === 0) continue;
    touched[w] = (touched[w] as number) | changed;
    const base = w << 5;
    for (let rest = changed; rest !== 0; rest &= rest - 1) {
      const bit = rest & -rest;
      const i = base + 31 - Math.clz32(bit);
      sums[i] = (sums[i] as number) + (((after[w] as number) & bit) === 0 ? -points : points);
    }
  }
}
