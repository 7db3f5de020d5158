/** Bits of a digit of wide differences. */
const DIGIT = 16;
const DIGITS = 2 ** DIGIT;

/**
 * The places of whole numbers in the order of these; equal ones in the order of their places.
 *
 * Sorted digit by digit (least significant first): time grows with how many there are and how far they lie apart, not with
 * n log n.
 *
 * @param values safe integers; NaN is left out
 * @example ascending(Float64Array.of(7, NaN, 3, 7)) // [2, 0, 3]
 */
export function ascending(values: Float64Array): Uint32Array {
  let order = new Uint32Array(values.length);
  let count = 0;
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i += 1) {
    const value = values[i] as number;
    if (Number.isNaN(value)) continue;
    order[count] = i;
    count += 1;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  order = order.subarray(0, count);
  // Differences beyond this are not exact.
  if (most - least > Number.MAX_SAFE_INTEGER)
    return order.sort((a, b) => (values[a] as number) - (values[b] as number) || a - b);
  return most - least < 2 ** 32
    ? byShifts(values, order, least, most - least)
    : byDivision(values, order, least, most - least);
}

/** Bits of a digit of small differences: the table of its values stays in the nearest cache. */
const SHORT = 11;
const MASK = 2 ** SHORT - 1;

/** @param order places, whose differences from `least` have 32 bits at most */
function byShifts(values: Float64Array, order: Uint32Array<ArrayBuffer>, least: number, span: number): Uint32Array {
  const count = order.length;
  let [from, to] = [order, new Uint32Array(count)];
  let [keys, nextKeys] = [new Uint32Array(count), new Uint32Array(count)];
  for (let r = 0; r < count; r += 1) keys[r] = (values[order[r] as number] as number) - least;
  const starts = new Uint32Array(MASK + 2);
  for (let shift = 0; shift < 32 && 2 ** shift <= span; shift += SHORT) {
    starts.fill(0);
    for (let r = 0; r < count; r += 1) {
      const digit = ((keys[r] as number) >>> shift) & MASK;
      starts[digit + 1] = (starts[digit + 1] as number) + 1;
    }
    for (let d = 1; d <= MASK; d += 1) starts[d] = (starts[d] as number) + (starts[d - 1] as number);
    for (let r = 0; r < count; r += 1) {
      const key = keys[r] as number;
      const digit = (key >>> shift) & MASK;
      const at = starts[digit] as number;
      starts[digit] = at + 1;
      to[at] = from[r] as number;
      nextKeys[at] = key;
    }
    [from, to] = [to, from];
    [keys, nextKeys] = [nextKeys, keys];
  }
  return from;
}

/** The same of differences that are wider. */
function byDivision(values: Float64Array, places: Uint32Array<ArrayBuffer>, least: number, span: number): Uint32Array {
  const count = places.length;
  let [order, next] = [places, new Uint32Array(count)];
  const digits = new Uint16Array(values.length);
  const starts = new Uint32Array(DIGITS + 1);
  for (let unit = 1; unit <= span; unit *= DIGITS) {
    starts.fill(0);
    for (let r = 0; r < count; r += 1) {
      const i = order[r] as number;
      const digit = Math.floor(((values[i] as number) - least) / unit) % DIGITS;
      digits[i] = digit;
      starts[digit + 1] = (starts[digit + 1] as number) + 1;
    }
    for (let d = 1; d <= DIGITS; d += 1) starts[d] = (starts[d] as number) + (starts[d - 1] as number);
    for (let r = 0; r < count; r += 1) {
      const i = order[r] as number;
      const digit = digits[i] as number;
      const at = starts[digit] as number;
      starts[digit] = at + 1;
      next[at] = i;
    }
    [order, next] = [next, order];
  }
  return order;
}
