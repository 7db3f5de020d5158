/** Millionths of a point. Sums are of whole numbers, so their order never matters. */
export type Micro = number;

export const MICRO = 1_000_000;

/** Points as whole millionths. */
export function toMicro(points: number): Micro {
  return Math.round(points * MICRO);
}

/** Millionths rounded half away from zero to so many decimals, in points. */
export function roundPoints(micro: Micro, decimals: number): number {
  const unit = MICRO / 10 ** decimals;
  const size = Math.abs(micro);
  const whole = Math.floor(size / unit);
  // Remainders of whole numbers are exact, the quotient's last bit is not.
  const rest = size - whole * unit;
  const rounded = (2 * rest >= unit ? whole + 1 : whole) / 10 ** decimals;
  return micro < 0 && rounded !== 0 ? -rounded : rounded;
}

/** Rounded to a whole number, halves away from zero. */
export function roundHalfAway(value: number): number {
  return value < 0 ? -Math.floor(-value + 0.5) : Math.floor(value + 0.5);
}

/** A sum held to a cap on both sides of zero; null: not held. */
export function heldTo(cap: number | null, micro: Micro): Micro {
  if (cap === null) return micro;
  const most = toMicro(cap);
  return Math.max(-most, Math.min(most, micro));
}
