import type { Rates, ReadyBound, ReadyCharter } from '@relvik/core';

export interface SqlSetting {
  readonly charter: ReadyCharter;
  readonly rates: Rates;
  /** The day of the question, in days since 1970-01-01. */
  readonly today: number;
}

/** Writes parts of a WHERE over `lead`, and collects their named parameters. */
export class SqlWriter {
  readonly parameters: Record<string, unknown> = {};
  private count = 0;

  constructor(readonly setting: SqlSetting) {}

  param(value: unknown): string {
    this.count += 1;
    const name = `c${this.count}`;
    this.parameters[name] = value;
    return Array.isArray(value) ? `:...${name}` : `:${name}`;
  }

  range<T extends number | string>(column: string, from: ReadyBound<T> | null, to: ReadyBound<T> | null): string {
    const ends = [
      ...(from === null ? [] : [`${column} ${from.included ? '>=' : '>'} ${this.param(from.at)}`]),
      ...(to === null ? [] : [`${column} ${to.included ? '<=' : '<'} ${this.param(to.at)}`]),
    ];
    return ends.length === 0 ? 'TRUE' : `(${ends.join(' AND ')})`;
  }

  oneOf(column: string, values: readonly (string | number)[]): string {
    return values.length === 0 ? 'FALSE' : `(${column} IN (${this.param([...values])}))`;
  }
}
