import type { Catalogue, Field } from '../record/field';
import { dayNumber } from '../record/day';
import type { Instant } from '../record/keys';
import type { Rates } from '../record/money';
import type { LeadRecord } from '../record/record';
import { BLANK, type Value } from '../record/value';
import { type Bits, noBits, setBit } from './bits';
import { CodeColumn, type Column, NumberColumn } from './column';
import type { Events } from './events';
import type { Population, Standing } from './population';

/** A record, and what only the population needs of it. */
export interface PopulationRecord {
  readonly record: LeadRecord;
  readonly closed: Instant | null;
  readonly touched: Instant;
}

/** Collects the texts of one column. */
class CodeBuilder {
  private readonly codes: Uint32Array;
  private readonly known = new Map<string, number>();
  private readonly unreadable: Bits;
  private anyUnreadable = false;

  constructor(size: number) {
    this.codes = new Uint32Array(size);
    this.unreadable = noBits(size);
  }

  add(at: number, folded: string): void {
    let code = this.known.get(folded);
    if (code === undefined) {
      code = this.known.size + 1;
      this.known.set(folded, code);
    }
    this.codes[at] = code;
  }

  cannotRead(at: number): void {
    setBit(this.unreadable, at);
    this.anyUnreadable = true;
  }

  build(): CodeColumn {
    return new CodeColumn(this.codes, [...this.known.keys()], this.anyUnreadable ? this.unreadable : null);
  }
}

/** Collects the numbers of one column. */
class NumberBuilder {
  private readonly values: Float64Array;
  private readonly unreadable: Bits;
  private anyUnreadable = false;

  constructor(size: number) {
    this.values = new Float64Array(size).fill(NaN);
    this.unreadable = noBits(size);
  }

  add(at: number, value: number): void {
    this.values[at] = value;
  }

  cannotRead(at: number): void {
    setBit(this.unreadable, at);
    this.anyUnreadable = true;
  }

  build(): NumberColumn {
    return new NumberColumn(this.values, this.anyUnreadable ? this.unreadable : null);
  }
}

/** The texts that stand for yes and no in a code column. */
export const YES_TEXT = 'yes';
export const NO_TEXT = 'no';

function encodeColumn(field: Field, size: number, valueAt: (at: number) => Value, rates: Rates, base: string): Column {
  const codes = new CodeBuilder(size);
  const numbers = new NumberBuilder(size);
  for (let at = 0; at < size; at += 1) {
    const value = valueAt(at);
    switch (value.kind) {
      case 'blank':
        break;
      case 'unreadable':
        codes.cannotRead(at);
        numbers.cannotRead(at);
        break;
      case 'text':
        codes.add(at, value.folded);
        break;
      case 'yes-no':
        codes.add(at, value.yes ? YES_TEXT : NO_TEXT);
        break;
      case 'number':
        numbers.add(at, value.scaled);
        break;
      case 'date':
        numbers.add(at, dayNumber(value.day));
        break;
      case 'money': {
        const amount = rates.toBase(value, base);
        codes.add(at, value.currency);
        if (amount === null) numbers.cannotRead(at);
        else numbers.add(at, amount);
      }
    }
  }
  switch (field.type) {
    case 'number':
    case 'date':
      return numbers.build();
    case 'money':
      return { kind: 'money', amounts: numbers.build(), currencies: codes.build() };
    case 'text':
    case 'email':
    case 'choice':
    case 'country':
    case 'yes-no':
      return codes.build();
  }
}

function encodeEvents(records: readonly PopulationRecord[]): Map<string, Events> {
  const counts = new Map<string, Uint32Array>();
  records.forEach(({ record }, at) => {
    for (const { kind } of record.activities) {
      let starts = counts.get(kind);
      if (starts === undefined) {
        starts = new Uint32Array(records.length + 1);
        counts.set(kind, starts);
      }
      starts[at + 1] = (starts[at + 1] as number) + 1;
    }
  });
  const events = new Map<string, Events>();
  for (const [kind, starts] of counts) {
    for (let i = 1; i < starts.length; i += 1) starts[i] = (starts[i] as number) + (starts[i - 1] as number);
    const at = new Float64Array(starts[records.length] as number);
    records.forEach(({ record }, i) => {
      let next = starts[i] as number;
      for (const activity of record.activities) {
        if (activity.kind !== kind) continue;
        at[next] = activity.at;
        next += 1;
      }
      at.subarray(starts[i], next).sort().reverse();
    });
    events.set(kind, { starts, at });
  }
  return events;
}

function encodeStanding(records: readonly PopulationRecord[]): Standing {
  const size = records.length;
  const known = new Map<string, number>();
  const code = (key: string | null): number => {
    if (key === null) return 0;
    const code = known.get(key) ?? known.size + 1;
    known.set(key, code);
    return code;
  };
  const stage = new Uint32Array(size);
  const owner = new Uint32Array(size);
  const queue = new Uint32Array(size);
  const pin = new Uint32Array(size);
  const open = noBits(size);
  const inBay = noBits(size);
  const looks = new Map<string, Bits>();
  records.forEach(({ record }, at) => {
    stage[at] = code(record.stage);
    pin[at] = code(record.pin);
    owner[at] = code(record.place?.kind === 'owner' ? record.place.rep : null);
    queue[at] = code(record.place?.kind === 'queue' ? record.place.queue : null);
    if (record.status === 'open') setBit(open, at);
    if (record.place?.kind === 'bay') setBit(inBay, at);
    for (const [gate, truth] of record.looks) {
      if (!truth) continue;
      const seen = looks.get(gate) ?? noBits(size);
      looks.set(gate, seen);
      setBit(seen, at);
    }
  });
  return { stage, owner, queue, pin, keys: [...known.keys()], open, inBay, looks };
}

/**
 * Lays records out by columns.
 *
 * @param records in ascending order of their ids, which must be whole numbers
 * @param rates and `base`: amounts are kept in the base currency's smallest unit
 */
export function encodePopulation(
  records: readonly PopulationRecord[],
  fields: Catalogue,
  rates: Rates,
  base: string,
): Population {
  const size = records.length;
  const columns = new Map<string, Column>();
  for (const [key, field] of fields) {
    const valueAt = (at: number): Value => records[at]?.record.values.get(key) ?? BLANK;
    columns.set(key, encodeColumn(field, size, valueAt, rates, base));
  }
  return {
    size,
    ids: Uint32Array.from(records, ({ record }) => Number(record.id)),
    arrived: Float64Array.from(records, ({ record }) => record.arrived),
    closed: Float64Array.from(records, ({ closed }) => closed ?? NaN),
    touched: Float64Array.from(records, ({ touched }) => touched),
    columns,
    events: encodeEvents(records),
    standing: encodeStanding(records),
  };
}
