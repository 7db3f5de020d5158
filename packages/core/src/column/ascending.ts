/** Bits of a digit. */
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
  let next = new Uint32Array(count);
  const digits = new Uint16Array(values.length);
  const starts = new Uint32Array(DIGITS + 1);
  for (let unit = 1; unit <= most - least; unit *= DIGITS) {
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
