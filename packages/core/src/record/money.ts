import { CURRENCY_DECIMALS } from './currencies.gen';
import type { Day } from './keys';
import { divideHalfAway } from './scaled';

export interface Money {
  /** In the currency's smallest unit: cents for EUR, yen for JPY. */
  readonly minor: number;
  /** ISO 4217 alphabetic code. */
  readonly currency: string;
  /** The day on which the amount was entered: it decides which rate converts it. */
  readonly enteredOn: Day;
}

/** Value of one unit of a currency in the reference currency, from a day on. */
export interface Rate {
  readonly currency: string;
  readonly from: Day;
  /** In millionths, more than 0: with EUR as reference, 1 NOK = 0.085 EUR is 85000. */
  readonly micro: number;
}

/** How many decimals a currency has by ISO 4217, or `undefined` for a code that is not in use. */
export function currencyDecimals(code: string): number | undefined {
  return CURRENCY_DECIMALS.get(code);
}

/** Conversion factor of an amount in smallest units: multiplied with `by`, divided by `over`. */
interface Factor {
  readonly by: bigint;
  readonly over: bigint;
  /** Both as doubles. */
  readonly plain: { readonly by: number; readonly over: number };
}

/** Rates by currency, against one reference currency, ready to be asked for a day. */
export class Rates {
  private readonly byCurrency = new Map<string, Rate[]>();
  private readonly factors = new Map<string, Factor | null>();

  /**
   * @param rates each currency once for a day, the reference never
   * @param reference ISO 4217 code of the currency in which rates are given
   */
  constructor(
    rates: readonly Rate[],
    readonly reference: string,
  ) {
    for (const rate of rates) {
      const known = this.byCurrency.get(rate.currency);
      if (known) known.push(rate);
      else this.byCurrency.set(rate.currency, [rate]);
    }
    for (const list of this.byCurrency.values()) list.sort((a, b) => (a.from < b.from ? -1 : 1));
  }

  /** All of them, by currency and day. */
  all(): readonly Rate[] {
    return [...this.byCurrency.values()].flat();
  }

  /** The latest rate on or before the day, in millionths of the reference currency, or `null`. */
  on(currency: string, day: Day): number | null {
    if (currency === this.reference) return ONE;
    let found: number | null = null;
    for (const rate of this.byCurrency.get(currency) ?? []) if (rate.from <= day) found = rate.micro;
    return found;
  }

  /**
   * From which day up to which (left out; null: still) each currency, the base left out, is converted at one rate, in order
   * of currencies and days. Days before the first rate of either are left out.
   */
  periods(base: string): { readonly currency: string; readonly from: Day; readonly until: Day | null }[] {
    const daysOf = (currency: string): Day[] => (this.byCurrency.get(currency) ?? []).map(({ from }) => from);
    return [this.reference, ...this.byCurrency.keys()].flatMap((currency) => {
      if (currency === base) return [];
      const days = [...new Set([...daysOf(currency), ...daysOf(base)])].sort();
      return days
        .map((from, i) => ({ currency, from, until: days[i + 1] ?? null }))
        .filter(({ from }) => this.on(currency, from) !== null && this.on(base, from) !== null);
    });
  }

  /**
   * An amount in the base currency's smallest unit, by the latest rates of both currencies on or before the day it was
   * entered, rounded once, half away from zero.
   *
   * @returns `null` when there is no rate, or the result is beyond a safe integer
   */
  toBase({ minor, currency, enteredOn }: Money, base: string): number | null {
    return this.conversion(currency, enteredOn, base)(minor);
  }

  /** {@link toBase} for many amounts of one currency and day. */
  conversion(currency: string, day: Day, base: string): (minor: number) => number | null {
    if (currency === base) return (minor) => minor;
    const factor = this.factor(currency, day, base);
    return factor === null ? () => null : (minor) => convert(minor, factor);
  }

  private factor(currency: string, day: Day, base: string): Factor | null {
    const key = `${currency} ${day} ${base}`;
    const known = this.factors.get(key);
    if (known !== undefined) return known;
    const [rate, baseRate] = [this.on(currency, day), this.on(base, day)];
    const [from, to] = [currencyDecimals(currency), currencyDecimals(base)];
    const factor =
      rate === null || baseRate === null || from === undefined || to === undefined
        ? null
        : reduced(BigInt(rate) * 10n ** BigInt(to), BigInt(baseRate) * 10n ** BigInt(from));
    this.factors.set(key, factor);
    return factor;
  }
}

/** In lowest terms: so that most amounts can be converted in doubles. */
function reduced(by: bigint, over: bigint): Factor {
  let [divisor, rest] = [by, over];
  while (rest !== 0n) [divisor, rest] = [rest, divisor % rest];
  const [times, parts] = [by / divisor, over / divisor];
  return { by: times, over: parts, plain: { by: Number(times), over: Number(parts) } };
}

/** In doubles where all they need is exact, which is nearly always; else in big integers. */
function convert(minor: number, { by, over, plain }: Factor): number | null {
  const size = Math.abs(minor) * plain.by;
  if (size <= Number.MAX_SAFE_INTEGER && plain.over <= Number.MAX_SAFE_INTEGER / 2) {
    const rest = size % plain.over;
    const whole = (size - rest) / plain.over + (2 * rest >= plain.over ? 1 : 0);
    return minor < 0 ? 0 - whole : whole;
  }
  const converted = Number(divideHalfAway(BigInt(minor) * by, over));
  return Number.isSafeInteger(converted) ? converted : null;
}

/** The reference currency's rate against itself. */
const ONE = 1_000_000;
