import { CURRENCY_DECIMALS, currencyDecimals, type Day, NUMBER_DECIMALS, type ReadyBound } from '@relvik/core';
import type { SqlWriter } from './sql-writer';

interface Span {
  readonly from: ReadyBound<number> | null;
  readonly to: ReadyBound<number> | null;
}

/**
 * That an amount `v` is worth so much in the base currency: amounts of each currency, and stretch of days with one rate,
 * between those that are worth the ends.
 */
export function worthBetween(writer: SqlWriter, { from, to }: Span): string {
  const { world, charter } = writer.setting;
  const { rates } = world;
  const base = charter.charter.baseCurrency;
  const inBase = `(v.currency = ${writer.param(base)} AND ${writer.range('v.number', from, to)})`;
  const others = rates.periods(base).flatMap(({ currency, from: first, until }) => {
    if (currencyDecimals(currency) === undefined) return [];
    const worth = (minor: number): number =>
      rates.toBase({ minor, currency, enteredOn: first }, base) ?? Math.sign(minor) * Infinity;
    const ends = [
      ...(from === null ? [] : [`v.number >= ${writer.param(leastWhere((m) => above(worth(m), from)))}`]),
      ...(to === null ? [] : [`v.number < ${writer.param(leastWhere((m) => !below(worth(m), to)))}`]),
    ];
    return [`(${[during(writer, currency, first, until), ...ends].join(' AND ')})`];
  });
  return `(${[inBase, ...others].join(' OR ')})`;
}

/** An amount `v` as it was entered, scaled to four decimals whatever its currency. */
export function asEntered(writer: SqlWriter): string {
  const byDecimals = new Map<number, string[]>();
  for (const [code, decimals] of CURRENCY_DECIMALS)
    byDecimals.set(decimals, [...(byDecimals.get(decimals) ?? []), code]);
  const cases = [...byDecimals].map(
    ([decimals, codes]) => `WHEN v.currency IN (${writer.param(codes)}) THEN ${10 ** (NUMBER_DECIMALS - decimals)}`,
  );
  return `(v.number * CASE ${cases.join(' ')} END)`;
}

/** That there is a rate for an amount `v`. */
export function hasRate(writer: SqlWriter): string {
  const base = writer.setting.charter.charter.baseCurrency;
  const others = writer.setting.world.rates
    .periods(base)
    .filter(({ currency }) => currencyDecimals(currency) !== undefined)
    .map(({ currency, from, until }) => `(${during(writer, currency, from, until)})`);
  return [`v.currency = ${writer.param(base)}`, ...others].join(' OR ');
}

function during(writer: SqlWriter, currency: string, from: Day, until: Day | null): string {
  const end = until === null ? '' : ` AND v.day < ${writer.param(until)}`;
  return `v.currency = ${writer.param(currency)} AND v.day >= ${writer.param(from)}${end}`;
}

function above(worth: number, { at, included }: ReadyBound<number>): boolean {
  return included ? worth >= at : worth > at;
}

function below(worth: number, { at, included }: ReadyBound<number>): boolean {
  return included ? worth <= at : worth < at;
}

/** The smallest amount for which something holds that goes on holding once it does. */
function leastWhere(holds: (minor: number) => boolean): number {
  let low = Number.MIN_SAFE_INTEGER;
  let high = Number.MAX_SAFE_INTEGER;
  while (low < high) {
    const middle = Math.floor(low / 2 + high / 2);
    if (holds(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}
