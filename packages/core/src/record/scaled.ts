/** Half away from zero, on a quotient of whole numbers: 5/2 → 3, −5/2 → −3. */
export function divideHalfAway(numerator: bigint, denominator: bigint): bigint {
  const negative = numerator < 0n !== denominator < 0n;
  const n = numerator < 0n ? -numerator : numerator;
  const d = denominator < 0n ? -denominator : denominator;
  const rounded = (2n * n + d) / (2n * d);
  return negative ? -rounded : rounded;
}

export type Scaled = { readonly ok: true; readonly scaled: number } | { readonly ok: false; readonly why: string };

/**
 * A decimal number as a whole number of its smallest unit: `"12.5"` with 2 decimals is 1250.
 *
 * @param text digits with at most one point and a leading sign; no thousands separators, no exponent
 * @param decimals how many decimals the unit keeps, 0 to 6
 * @returns the whole number, or why the text can't be read exactly (nothing is rounded)
 */
export function parseScaled(text: string, decimals: number): Scaled {
  const match = /^([+-]?)(\d+)(?:\.(\d+))?$/.exec(text.trim());
  if (match === null) return { ok: false, why: 'is not a number' };
  const [, sign = '', whole = '', fraction = ''] = match;
  const kept = fraction.replace(/0+$/, '');
  if (kept.length > decimals) return { ok: false, why: `has more than ${decimals} decimals` };
  const scaled = Number(whole + kept.padEnd(decimals, '0'));
  if (!Number.isSafeInteger(scaled)) return { ok: false, why: 'is too large' };
  return { ok: true, scaled: sign === '-' && scaled !== 0 ? -scaled : scaled };
}

/** The shortest decimal text of a scaled whole number: 1250 with 2 decimals is `"12.5"`. */
export function showScaled(scaled: number, decimals: number): string {
  const digits = String(Math.abs(scaled)).padStart(decimals + 1, '0');
  const whole = digits.slice(0, digits.length - decimals);
  const fraction = digits.slice(digits.length - decimals).replace(/0+$/, '');
  return `${scaled < 0 ? '-' : ''}${whole}${fraction && `.${fraction}`}`;
}
