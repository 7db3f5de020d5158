import {
  dayNumber,
  dayOf,
  type Instant,
  type ReadyBound,
  type ReadyCharter,
  startOfDay,
  type World,
} from '@relvik/core';
import type { ListKind } from './list-kinds';

export interface SqlSetting {
  readonly list: ListKind;
  readonly charter: ReadyCharter;
  readonly world: Pick<World, 'rates' | 'kinds' | 'reps' | 'teams'>;
  /** The moment of the question. */
  readonly now: Instant;
  /**
   * How often something with certain properties happened, by record, of those to which it did; the database can't fold texts as
   * conditions compare them. By {@link happeningText}.
   */
  readonly happened: ReadonlyMap<string, ReadonlyMap<number, number>>;
}

/** The database knows no instants before the first of these days, or after the last: there is no need to ask. */
const FIRST_DAY = dayNumber('1000-01-02');
const LAST_DAY = dayNumber('9999-12-30');

/** Writes parts of a WHERE over a record `r`, and collects their named parameters. */
export class SqlWriter {
  readonly parameters: Record<string, unknown> = {};
  private count = 0;

  constructor(readonly setting: SqlSetting) {}

  get timeZone(): string {
    return this.setting.charter.charter.timeZone;
  }

  /** The day of the question, in days since 1970-01-01. */
  get today(): number {
    return dayNumber(dayOf(this.setting.now, this.timeZone));
  }

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

  /** That an instant falls on one of some days, in days since 1970-01-01; the day beyond is left out. */
  onDays(instant: string, from: number, beyond: number): string {
    const start = (day: number): Date => new Date(startOfDay(day, this.timeZone));
    const ends = [
      ...(from > FIRST_DAY ? [`${instant} >= ${this.param(start(from))}`] : []),
      ...(beyond < LAST_DAY ? [`${instant} < ${this.param(start(beyond))}`] : []),
    ];
    return ends.length === 0 ? 'TRUE' : `(${ends.join(' AND ')})`;
  }

  oneOf(column: string, values: readonly (string | number)[]): string {
    return values.length === 0 ? 'FALSE' : `(${column} IN (${this.param([...values])}))`;
  }
}
