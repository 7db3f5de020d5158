import {
  type Axis,
  currencyDecimals,
  type Day,
  dayFrom,
  fold,
  hasPart,
  NUMBER_DECIMALS,
  type Rates,
  type ReadyBound,
  type ReadyCharter,
  type ReadyCondition,
  type ReadyTest,
} from '@relvik/core';

/** A part of a WHERE over `lead`, with named parameters. */
export interface SqlPart {
  readonly sql: string;
  readonly parameters: Readonly<Record<string, unknown>>;
}

export interface SqlSetting {
  readonly charter: ReadyCharter;
  readonly rates: Rates;
  /** The day of the question, in days since 1970-01-01. */
  readonly today: number;
}

/** The stored texts are cut off here. */
const LONGEST_TEXT = 190;

/**
 * The leads for which a condition holds, as SQL over `lead` and `field_value`; the same as `judge` says, with scores, stages
 * and territories as they are stored.
 *
 * A condition has three answers, so "holds" and "does not hold" are asked apart: what can't be judged is neither. Of a text
 * the first 190 characters are looked at.
 */
export function conditionSql(condition: ReadyCondition, setting: SqlSetting): SqlPart {
  const writer = new ConditionWriter(setting);
  return { sql: writer.holds(condition), parameters: writer.parameters };
}

type Numbers = { readonly from: ReadyBound<number> | null; readonly to: ReadyBound<number> | null };

class ConditionWriter {
  readonly parameters: Record<string, unknown> = {};
  private count = 0;

  constructor(private readonly setting: SqlSetting) {}

  holds(condition: ReadyCondition): string {
    switch (condition.kind) {
      case 'all':
        return this.joined(condition.of, ' AND ', 'TRUE', (part) => this.holds(part));
      case 'any':
        return this.joined(condition.of, ' OR ', 'FALSE', (part) => this.holds(part));
      case 'not':
        return this.fails(condition.of);
      default:
        return this.computed(condition, true) ?? this.testHolds(condition);
    }
  }

  private fails(condition: ReadyCondition): string {
    switch (condition.kind) {
      case 'all':
        return this.joined(condition.of, ' OR ', 'FALSE', (part) => this.fails(part));
      case 'any':
        return this.joined(condition.of, ' AND ', 'TRUE', (part) => this.fails(part));
      case 'not':
        return this.holds(condition.of);
      default:
        return this.computed(condition, false) ?? this.testFails(condition);
    }
  }

  private joined(
    parts: readonly ReadyCondition[],
    by: string,
    none: string,
    write: (part: ReadyCondition) => string,
  ): string {
    return parts.length === 0 ? none : `(${parts.map(write).join(by)})`;
  }

  private param(value: unknown): string {
    this.count += 1;
    const name = `c${this.count}`;
    this.parameters[name] = value;
    return Array.isArray(value) ? `:...${name}` : `:${name}`;
  }

  /** That the record has a value of the field of which this is true. */
  private value(field: string, is: string): string {
    return `EXISTS (SELECT 1 FROM field_value v WHERE v.record = lead.id AND v.field = ${this.param(field)} AND ${is})`;
  }

  private testHolds(test: ReadyTest): string {
    return test.kind === 'blank' ? `NOT ${this.value(test.field, 'TRUE')}` : this.value(test.field, this.matches(test));
  }

  private testFails(test: ReadyTest): string {
    if (test.kind === 'blank') return this.value(test.field, 'TRUE');
    const matches = this.matches(test);
    const open =
      test.kind === 'money-in' ? `(v.kind = 'unreadable' OR NOT (${this.hasRate()}))` : "v.kind = 'unreadable'";
    return `NOT ${this.value(test.field, `((${matches}) OR ${open})`)}`;
  }

  private matches(test: Exclude<ReadyTest, { kind: 'blank' }>): string {
    switch (test.kind) {
      case 'text-in':
        return `v.folded IN (${this.param([...test.folded].map((text) => text.slice(0, LONGEST_TEXT)))})`;
      case 'text-part':
        return `(${test.folded.map((part) => `v.folded LIKE ${this.param(patternOf(test.part, part))}`).join(' OR ') || 'FALSE'})`;
      case 'yes-no':
        return `v.kind = 'yes-no' AND v.number = ${this.param(test.yes ? 1 : 0)}`;
      case 'number-in':
        return `v.kind = 'number' AND ${this.numbers('v.number', test)}`;
      case 'money-in':
        return this.money(test);
      case 'currency-in':
        return `v.kind = 'money' AND v.currency IN (${this.param([...test.codes])})`;
      case 'day-in':
        return `v.kind = 'date' AND v.number IS NULL AND v.currency IS NULL AND ${this.range('v.day', test.from, test.to)}`;
      case 'days-ago-in': {
        const { today } = this.setting;
        // The more days ago, the earlier the day.
        const from = test.to && { at: dayFrom(today - test.to.at), included: test.to.included };
        const to = test.from && { at: dayFrom(today - test.from.at), included: test.from.included };
        return `v.kind = 'date' AND v.number IS NULL AND v.currency IS NULL AND ${this.range('v.day', from, to)}`;
      }
    }
  }

  private range<T extends number | string>(
    column: string,
    from: ReadyBound<T> | null,
    to: ReadyBound<T> | null,
  ): string {
    const ends = [
      ...(from === null ? [] : [`${column} ${from.included ? '>=' : '>'} ${this.param(from.at)}`]),
      ...(to === null ? [] : [`${column} ${to.included ? '<=' : '<'} ${this.param(to.at)}`]),
    ];
    return ends.length === 0 ? 'TRUE' : `(${ends.join(' AND ')})`;
  }

  private numbers(column: string, { from, to }: Numbers): string {
    return this.range(column, from, to);
  }

  /** Amounts of each currency, and stretch of days with one rate, between those that are worth the ends. */
  private money({ from, to }: Numbers): string {
    const { rates, charter } = this.setting;
    const base = charter.charter.baseCurrency;
    const inBase = `(v.currency = ${this.param(base)} AND ${this.numbers('v.number', { from, to })})`;
    const others = rates.periods(base).flatMap(({ currency, from: first, until }) => {
      if (currencyDecimals(currency) === undefined) return [];
      const worth = (minor: number): number =>
        rates.toBase({ minor, currency, enteredOn: first }, base) ?? Math.sign(minor) * Infinity;
      const ends = [
        ...(from === null ? [] : [`v.number >= ${this.param(leastWhere((m) => above(worth(m), from)))}`]),
        ...(to === null ? [] : [`v.number < ${this.param(leastWhere((m) => !below(worth(m), to)))}`]),
      ];
      return [`(${[this.during(currency, first, until), ...ends].join(' AND ')})`];
    });
    return `v.kind = 'money' AND (${[inBase, ...others].join(' OR ')})`;
  }

  private during(currency: string, from: Day, until: Day | null): string {
    const end = until === null ? '' : ` AND v.day < ${this.param(until)}`;
    return `v.currency = ${this.param(currency)} AND v.day >= ${this.param(from)}${end}`;
  }

  private hasRate(): string {
    const base = this.setting.charter.charter.baseCurrency;
    const others = this.setting.rates
      .periods(base)
      .filter(({ currency }) => currencyDecimals(currency) !== undefined)
      .map(({ currency, from, until }) => `(${this.during(currency, from, until)})`);
    return [`v.currency = ${this.param(base)}`, ...others].join(' OR ');
  }

  /** A test of what was computed, read from the lead itself; null: of no such thing. */
  private computed(test: ReadyTest, holds: boolean): string | null {
    switch (test.field) {
      case 'fit':
      case 'engagement':
        return this.scored(this.score(`lead.${test.field}`, test), `lead.${test.field} IS NOT NULL`, test, holds);
      case 'rank': {
        const judged = 'lead.fit IS NOT NULL AND lead.engagement IS NOT NULL';
        return this.scored(this.score('lead.rankOrder', test), judged, test, holds);
      }
      case 'fit_band':
        return this.scored(this.inBands('fit', test), 'lead.fitBand IS NOT NULL', test, holds);
      case 'engagement_band':
        return this.scored(this.inBands('engagement', test), 'lead.engagementBand IS NOT NULL', test, holds);
      case 'verdict': {
        const keys = this.setting.charter.charter.verdicts.map(({ key }) => key);
        return this.scored(this.oneOf('lead.verdict', keysWhere(keys, test)), 'lead.verdict IS NOT NULL', test, holds);
      }
      case 'stage': {
        if (test.kind === 'blank') return holds ? 'FALSE' : 'TRUE';
        const keys = this.setting.charter.charter.stages.map(({ key }) => key);
        return `${holds ? '' : 'NOT '}${this.oneOf('lead.stage', keysWhere(keys, test))}`;
      }
      case 'territory': {
        if (test.kind === 'blank') return `lead.territory IS ${holds ? '' : 'NOT '}NULL`;
        const keys = this.setting.charter.charter.territories.list.map(({ key }) => key);
        const is = `(lead.territory IS NOT NULL AND ${this.oneOf('lead.territory', keysWhere(keys, test))})`;
        return holds ? is : `NOT ${is}`;
      }
      default:
        return null;
    }
  }

  /** What is scored answers a test; what can't be judged does not; for whom no set admits it is blank. */
  private scored(is: string, judged: string, test: ReadyTest, holds: boolean): string {
    const none = "lead.admitted = 'no'";
    if (test.kind === 'blank') return holds ? none : `NOT ${none}`;
    return holds ? `(${judged} AND ${is})` : `(${none} OR (${judged} AND NOT ${is}))`;
  }

  private score(column: string, test: ReadyTest): string {
    if (test.kind !== 'number-in') return 'FALSE';
    const unit = 10 ** NUMBER_DECIMALS;
    const scaled = (end: ReadyBound<number> | null) => end && { at: end.at / unit, included: end.included };
    return this.range(column, scaled(test.from), scaled(test.to));
  }

  /** That its band, by the set that graded it, is one of those whose name passes. */
  private inBands(axis: Axis, test: ReadyTest): string {
    const column = axis === 'fit' ? 'lead.fitBand' : 'lead.engagementBand';
    const sets = this.setting.charter.scoreSets.map(({ key, grid }) => {
      const bands = this.oneOf(column, placesWhere(grid[axis].names, test));
      return `(lead.scoreSet = ${this.param(key)} AND ${bands})`;
    });
    return `(${sets.join(' OR ')})`;
  }

  private oneOf(column: string, values: readonly (string | number)[]): string {
    return values.length === 0 ? 'FALSE' : `(${column} IN (${this.param([...values])}))`;
  }
}

function passes(test: ReadyTest, text: string): boolean {
  const folded = fold(text);
  if (test.kind === 'text-in') return test.folded.has(folded);
  return test.kind === 'text-part' && hasPart(test, folded);
}

function placesWhere(names: readonly string[], test: ReadyTest): number[] {
  return names.flatMap((name, place) => (passes(test, name) ? [place] : []));
}

function keysWhere(keys: readonly string[], test: ReadyTest): string[] {
  return keys.filter((key) => passes(test, key));
}

function patternOf(part: (ReadyTest & { kind: 'text-part' })['part'], text: string): string {
  const plain = text.replace(/[\\%_]/g, '\\$&');
  switch (part) {
    case 'contains':
      return `%${plain}%`;
    case 'starts-with':
      return `${plain}%`;
    case 'ends-with':
      return `%${plain}`;
  }
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
