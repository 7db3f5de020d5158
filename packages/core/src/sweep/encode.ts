import { type Catalogue, readableFields } from '../record/catalogue';
import type { Field } from '../record/field';
import { dayNumber } from '../record/day';
import type { Instant } from '../record/keys';
import type { RecordKind } from '../record/kind';
import { COMPANY_OWNER } from '../route/company-owner';
import type { Money } from '../record/money';
import { type AnyRecord, isOpen } from '../record/record';
import type { Value } from '../record/value';
import { hasProperties, type PropertyTest } from '../activity/property-test';
import { type Bits, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column, NumberColumn, MoneyColumn } from '../column/column';
import { type Events, eventsFrom } from '../column/events';
import type { Population, StandingColumns } from './population';

/** A record, and what only the population needs of it. */
export interface PopulationRecord<R extends AnyRecord = AnyRecord> {
  readonly record: R;
  readonly closed: Instant | null;
  readonly touched: Instant;
  /** The number of the charter that gave it its values, where it is known. */
  readonly charter?: number;
}

/** Collects the texts of one column. */
export class CodeBuilder {
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
export class NumberBuilder {
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

/** Collects the amounts of one column. */
export class MoneyBuilder {
  private readonly minor: Float64Array;
  private readonly entered: Int32Array;
  private readonly currencies: CodeBuilder;

  constructor(size: number) {
    this.minor = new Float64Array(size).fill(NaN);
    this.entered = new Int32Array(size);
    this.currencies = new CodeBuilder(size);
  }

  add(at: number, { minor, currency, enteredOn }: Money): void {
    this.minor[at] = minor;
    this.entered[at] = dayNumber(enteredOn);
    this.currencies.add(at, currency);
  }

  cannotRead(at: number): void {
    this.currencies.cannotRead(at);
  }

  build(): MoneyColumn {
    return new MoneyColumn(this.minor, this.entered, this.currencies.build());
  }
}

/** The value of a record under a key, its own or across a tie. */
function valueIn(one: PopulationRecord | undefined, key: string): Value | undefined {
  return one?.record.values.get(key) ?? one?.record.tied?.get(key);
}

function encodeMoney(key: string, records: readonly PopulationRecord[]): MoneyColumn {
  const amounts = new MoneyBuilder(records.length);
  for (let at = 0; at < records.length; at += 1) {
    const value = valueIn(records[at], key);
    if (value?.kind === 'money') amounts.add(at, value);
    else if (value?.kind === 'unreadable') amounts.cannotRead(at);
  }
  return amounts.build();
}

function encodeNumbers(key: string, records: readonly PopulationRecord[]): Column {
  const numbers = new NumberBuilder(records.length);
  for (let at = 0; at < records.length; at += 1) {
    const value = valueIn(records[at], key);
    if (value?.kind === 'number') numbers.add(at, value.scaled);
    else if (value?.kind === 'date') numbers.add(at, dayNumber(value.day));
    else if (value?.kind === 'unreadable') numbers.cannotRead(at);
  }
  return numbers.build();
}

function encodeCodes(key: string, records: readonly PopulationRecord[]): Column {
  const codes = new CodeBuilder(records.length);
  for (let at = 0; at < records.length; at += 1) {
    const value = valueIn(records[at], key);
    if (value?.kind === 'text' || value?.kind === 'choices') codes.add(at, value.folded);
    else if (value?.kind === 'yes-no') codes.add(at, value.yes ? YES_TEXT : NO_TEXT);
    else if (value?.kind === 'unreadable') codes.cannotRead(at);
  }
  return codes.build();
}

function encodeColumn(field: Field, records: readonly PopulationRecord[]): Column {
  switch (field.type) {
    case 'number':
    case 'date':
      return encodeNumbers(field.key, records);
    case 'money':
      return encodeMoney(field.key, records);
    case 'text':
    case 'email':
    case 'choice':
    case 'choices':
    case 'country':
    case 'region':
    case 'postal-code':
    case 'yes-no':
      return encodeCodes(field.key, records);
  }
}

function encodeEvents(records: readonly PopulationRecord[]): Map<string, Events> {
  const starts = new Map<string, Uint32Array>();
  for (let i = 0; i < records.length; i += 1) {
    for (const { kind } of records[i]?.record.activities ?? []) {
      let counts = starts.get(kind);
      if (counts === undefined) {
        counts = new Uint32Array(records.length + 1);
        starts.set(kind, counts);
      }
      counts[i + 1] = (counts[i + 1] as number) + 1;
    }
  }
  const events = new Map<string, Events>();
  const next = new Map<string, Uint32Array>();
  for (const [kind, counts] of starts) {
    for (let i = 1; i < counts.length; i += 1) counts[i] = (counts[i] as number) + (counts[i - 1] as number);
    events.set(kind, { starts: counts, at: new Float64Array(counts[records.length] as number) });
    next.set(kind, counts.slice());
  }
  for (let i = 0; i < records.length; i += 1) {
    const newestFirst = [...(records[i]?.record.activities ?? [])].sort((a, b) => b.at - a.at);
    for (const { kind, at } of newestFirst) {
      const cursor = next.get(kind) as Uint32Array;
      (events.get(kind) as Events).at[cursor[i] as number] = at;
      cursor[i] = (cursor[i] as number) + 1;
    }
  }
  return events;
}

function encodeWays(records: readonly PopulationRecord[]): CodeColumn {
  const ways = new CodeBuilder(records.length);
  records.forEach(({ record: { way } }, at) => {
    if (way !== null) ways.add(at, way);
  });
  return ways.build();
}

/** The activities of a kind that have these properties, by record, newest first. */
export function encodeHappening(
  records: readonly PopulationRecord[],
  kind: string,
  having: readonly PropertyTest[],
): Events {
  const times = records.map(({ record }) =>
    record.activities
      .filter((activity) => activity.kind === kind && hasProperties(activity, having))
      .map(({ at }) => at)
      .sort((a, b) => b - a),
  );
  return eventsFrom(times);
}

function encodeStanding(records: readonly PopulationRecord[]): StandingColumns {
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
  const cameInto = new Uint32Array(size);
  const charter = Uint32Array.from(records, (one) => one.charter ?? 0);
  const open = noBits(size);
  const inBay = noBits(size);
  const dealt = noBits(size);
  const looks = new Map<string, Bits>();
  records.forEach(({ record }, at) => {
    const { standing } = record;
    if (standing === null || isOpen(standing)) setBit(open, at);
    if (standing === null) return;
    const { place } = standing;
    stage[at] = code(standing.stage);
    pin[at] = code(standing.pin);
    cameInto[at] = code(standing.cameInto);
    owner[at] = code(place?.kind === 'owner' ? place.rep : null);
    queue[at] = code(place?.kind === 'queue' ? place.queue : null);
    if (place?.kind === 'bay') setBit(inBay, at);
    if (standing.hasOpenDeal === true) setBit(dealt, at);
    for (const [key, look] of standing.looks) {
      if (look !== 'true') continue;
      const seen = looks.get(key) ?? noBits(size);
      looks.set(key, seen);
      setBit(seen, at);
    }
  });
  const stageSince = Float64Array.from(records, ({ record }) => record.standing?.stageSince ?? NaN);
  return {
    stage,
    owner,
    queue,
    pin,
    cameInto,
    stageSince,
    keys: [...known.keys()],
    charter,
    open,
    inBay,
    dealt,
    looks,
  };
}

/**
 * Lays records out by columns.
 *
 * @param records all of one kind, in ascending order of their ids, which must be whole numbers
 * @param fields those of all kinds: the population has a column for each that conditions over the kind may read
 */
export function encodePopulation(
  records: readonly PopulationRecord[],
  fields: Catalogue,
  kind: RecordKind = 'lead',
): Population {
  const size = records.length;
  const columns = new Map<string, Column>();
  for (const [key, field] of readableFields(fields, kind)) columns.set(key, encodeColumn(field, records));
  if (kind === 'lead') columns.set(COMPANY_OWNER, encodeCodes(COMPANY_OWNER, records));
  return {
    size,
    kind,
    ids: Uint32Array.from(records, ({ record }) => Number(record.id)),
    arrived: Float64Array.from(records, ({ record }) => record.arrived),
    closed: Float64Array.from(records, ({ closed }) => closed ?? NaN),
    touched: Float64Array.from(records, ({ touched }) => touched),
    way: encodeWays(records),
    columns,
    events: encodeEvents(records),
    standing: encodeStanding(records),
    withheld: new Map(),
    given: new Map(),
  };
}
