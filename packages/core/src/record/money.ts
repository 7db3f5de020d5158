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

/** Value of one unit of a currency in the base currency, from a day on. */
export interface Rate {
  readonly currency: string;
  readonly from: Day;
  /** In millionths: 1 EUR = 11.75 NOK is 11750000. */
  readonly micro: number;
}

/** How many decimals a currency has by ISO 4217, or `undefined` for a code that is not in use. */
export function currencyDecimals(code: string): number | undefined {
  return CURRENCY_DECIMALS.get(code);
}

/** Rates by currency, ready to be asked for a day. */
export class Rates {
  private readonly byCurrency = new Map<string, Rate[]>();

  constructor(rates: readonly Rate[]) {
    for (const rate of rates) {
      const known = this.byCurrency.get(rate.currency);
      if (known) known.push(rate);
      else this.byCurrency.set(rate.currency, [rate]);
    }
    for (const list of this.byCurrency.values()) list.sort((a, b) => (a.from < b.from ? -1 : 1));
  }

  /** The latest rate on or before the day, in millionths, or `null`. */
  on(currency: string, day: Day): number | null {
    let found: number | null = null;
    for (const rate of this.byCurrency.get(currency) ?? []) if (rate.from <= day) found = rate.micro;
    return found;
  }

  /** From which day up to which (left out; null: still) each currency has one rate, in order of currencies and days. */
  periods(): { readonly currency: string; readonly from: Day; readonly until: Day | null }[] {
    return [...this.byCurrency].flatMap(([currency, rates]) =>
      rates.map(({ from }, i) => ({ currency, from, until: rates[i + 1]?.from ?? null })),
    );
  }

  /**
   * An amount in the base currency's smallest unit, at the latest rate on or before the day it was entered,
   * rounded half away from zero.
   *
   * @returns `null` when there is no rate, or the result is beyond a safe integer
   */
  toBase(money: Money, base: string): number | null {
    if (money.currency === base) return money.minor;
    const micro = this.on(money.currency, money.enteredOn);
    const from = currencyDecimals(money.currency);
    const to = currencyDecimals(base);
    if (micro === null || from === undefined || to === undefined) return null;
    const converted = Number(
      divideHalfAway(BigInt(money.minor) * BigInt(micro) * 10n ** BigInt(to), 1_000_000n * 10n ** BigInt(from)),
    );
    return Number.isSafeInteger(converted) ? converted : null;
  }
}
