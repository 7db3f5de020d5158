import {
  type Bits,
  CodeColumn,
  type Column,
  type Events,
  type Instant,
  NumberColumn,
  type Population,
  type Withheld,
} from '@relvik/core';
import {
  Bool,
  type Data,
  Dictionary,
  Field,
  Float64,
  Int32,
  List,
  makeData,
  RecordBatch,
  Schema,
  Struct,
  Table,
  tableFromIPC,
  tableToIPC,
  Uint32,
  Utf8,
  vectorFromArray,
} from 'apache-arrow';

/** When a population was read, and what it can be told apart from later ones by. */
export interface PopulationMeta {
  readonly asOf: Instant;
  readonly version: string;
  /** The currency in whose smallest unit amounts are kept. */
  readonly baseCurrency: string;
}

function bitsData(bits: Bits, length: number): Data<Bool> {
  return makeData({
    type: new Bool(),
    length,
    nullCount: 0,
    data: new Uint8Array(bits.buffer, bits.byteOffset, bits.byteLength),
  });
}

/** Validity, one bit a value, of what is not NaN. */
function filled(values: Float64Array): { readonly bitmap: Uint8Array; readonly nulls: number } {
  const bitmap = new Uint8Array((values.length + 7) >>> 3);
  let nulls = 0;
  for (let i = 0; i < values.length; i += 1) {
    if (Number.isNaN(values[i])) nulls += 1;
    else bitmap[i >>> 3] = (bitmap[i >>> 3] as number) | (1 << (i & 7));
  }
  return { bitmap, nulls };
}

function numbersData(values: Float64Array): Data<Float64> {
  const { bitmap, nulls } = filled(values);
  return makeData({ type: new Float64(), length: values.length, nullCount: nulls, nullBitmap: bitmap, data: values });
}

/** Codes, 0 for none, as a dictionary column in which none is null. */
function codesData(codes: Uint32Array, dictionary: readonly string[], id: number): Data<Dictionary<Utf8, Int32>> {
  const keys = new Int32Array(codes.length);
  const bitmap = new Uint8Array((codes.length + 7) >>> 3);
  let nulls = 0;
  for (let i = 0; i < codes.length; i += 1) {
    const code = codes[i] as number;
    if (code === 0) nulls += 1;
    else {
      keys[i] = code - 1;
      bitmap[i >>> 3] = (bitmap[i >>> 3] as number) | (1 << (i & 7));
    }
  }
  return makeData({
    type: new Dictionary(new Utf8(), new Int32(), id),
    length: codes.length,
    nullCount: nulls,
    nullBitmap: bitmap,
    data: keys,
    dictionary: vectorFromArray([...dictionary], new Utf8()),
  });
}

function eventsData({ starts, at }: Events): Data<List<Float64>> {
  const child = makeData({ type: new Float64(), length: at.length, nullCount: 0, data: at });
  return makeData({
    type: new List(new Field('at', new Float64(), false)),
    length: starts.length - 1,
    nullCount: 0,
    valueOffsets: Int32Array.from(starts),
    child,
  });
}

/**
 * Writes a population as one Apache Arrow IPC stream.
 *
 * Columns: `id`, `arrived`, `closed`, `touched` (milliseconds), `stage`, `owner`, `queue`, `pin`, `open`, `in_bay`; `look:GATE`;
 * for each field `text:F`, or `number:F`, or `number:F` and `text:F` for money (its currency), and `unreadable:F`,
 * `unconverted:F` where any value is; `events:KIND`, the instants of activities, newest first.
 */
export function populationToArrow(population: Population, meta: PopulationMeta): Uint8Array {
  const { size, standing } = population;
  const columns: [name: string, data: Data][] = [];
  let dictionaries = 0;
  const put = (name: string, data: Data): number => columns.push([name, data]);
  const putCodes = (name: string, codes: Uint32Array, dictionary: readonly string[]): number =>
    put(name, codesData(codes, dictionary, (dictionaries += 1)));
  const putBits = (name: string, bits: Bits | null): unknown => bits !== null && put(name, bitsData(bits, size));

  put('id', makeData({ type: new Uint32(), length: size, nullCount: 0, data: population.ids }));
  for (const name of ['arrived', 'closed', 'touched'] as const) put(name, numbersData(population[name]));
  for (const name of ['stage', 'owner', 'queue', 'pin'] as const) putCodes(name, standing[name], standing.keys);
  putBits('open', standing.open);
  putBits('in_bay', standing.inBay);
  for (const [gate, bits] of standing.looks) putBits(`look:${gate}`, bits);
  for (const [field, column] of population.columns) {
    const codes = column.kind === 'money' ? column.currencies : column.kind === 'codes' ? column : null;
    const numbers = column.kind === 'money' ? column.amounts : column.kind === 'numbers' ? column : null;
    if (numbers !== null) put(`number:${field}`, numbersData(numbers.values));
    if (codes !== null) putCodes(`text:${field}`, codes.codes, codes.dictionary);
    putBits(`unreadable:${field}`, (codes ?? numbers)?.unreadable ?? null);
    if (column.kind === 'money') putBits(`unconverted:${field}`, column.amounts.unreadable);
  }
  for (const [kind, events] of population.events) put(`events:${kind}`, eventsData(events));

  const fields = columns.map(([name, { type }]) => new Field(name, type, true));
  const schema = new Schema(
    fields,
    new Map([['relvik', JSON.stringify({ ...meta, withheld: [...population.withheld] })]]),
  );
  const struct = makeData({
    type: new Struct(fields),
    length: size,
    nullCount: 0,
    children: columns.map(([, data]) => data),
  });
  return tableToIPC(new Table([new RecordBatch(schema, struct)]), 'stream');
}

/** Words of 32 bits over the bytes of a bitmap, whose unused bits are cleared. */
function bitsFrom(bytes: Uint8Array, size: number): Bits {
  const bits = new Uint32Array((size + 31) >>> 5);
  new Uint8Array(bits.buffer).set(bytes.subarray(0, (size + 7) >>> 3));
  if ((size & 31) !== 0) bits[bits.length - 1] = (bits[bits.length - 1] as number) & ((1 << (size & 31)) - 1);
  return bits;
}

function hasBitIn(bitmap: Uint8Array, i: number): boolean {
  return (((bitmap[i >>> 3] as number) >>> (i & 7)) & 1) === 1;
}

/**
 * Reads what {@link populationToArrow} wrote.
 *
 * @throws when the bytes are no Arrow stream, or not one of a population
 */
export function populationFromArrow(bytes: Uint8Array): {
  readonly population: Population;
  readonly meta: PopulationMeta;
} {
  const table = tableFromIPC(bytes);
  const size = table.numRows;
  const described = table.schema.metadata.get('relvik');
  if (described === undefined) throw new Error('This Arrow stream holds no population');
  const { withheld, ...meta } = JSON.parse(described) as PopulationMeta & { withheld: [string, Withheld][] };
  const dataOf = (name: string): Data | null => {
    const [data, more] = table.getChild(name)?.data ?? [];
    if (more !== undefined) throw new Error(`The column ${name} comes in parts`);
    return data ?? null;
  };
  const bits = (name: string): Bits | null => {
    const data = dataOf(name);
    return data === null ? null : bitsFrom(data.values as Uint8Array, size);
  };
  const numbers = (name: string): Float64Array => {
    const data = dataOf(name);
    if (data === null) return new Float64Array(size).fill(NaN);
    const values = (data.values as Float64Array).slice(0, size);
    if (data.nullCount > 0) for (let i = 0; i < size; i += 1) if (!hasBitIn(data.nullBitmap, i)) values[i] = NaN;
    return values;
  };
  const texts = (name: string): { readonly codes: Uint32Array; readonly dictionary: string[] } => {
    const data = dataOf(name);
    const codes = new Uint32Array(size);
    if (data === null) return { codes, dictionary: [] };
    const keys = data.values as Int32Array;
    const known = data.nullCount === 0 ? null : data.nullBitmap;
    for (let i = 0; i < size; i += 1) if (known === null || hasBitIn(known, i)) codes[i] = (keys[i] as number) + 1;
    return { codes, dictionary: [...((data.dictionary ?? []) as Iterable<string>)] };
  };

  const columns = new Map<string, Column>();
  const events = new Map<string, Events>();
  const looks = new Map<string, Bits>();
  for (const { name } of table.schema.fields) {
    const at = name.indexOf(':');
    const [kind, key] = [name.slice(0, at), name.slice(at + 1)];
    if (kind === 'look') looks.set(key, bits(name) ?? bitsFrom(new Uint8Array(0), size));
    else if (kind === 'number') {
      const hasText = table.getChild(`text:${key}`) !== null;
      const amounts = new NumberColumn(numbers(name), bits(`${hasText ? 'unconverted' : 'unreadable'}:${key}`));
      if (!hasText) columns.set(key, amounts);
      else {
        const { codes, dictionary } = texts(`text:${key}`);
        columns.set(key, {
          kind: 'money',
          amounts,
          currencies: new CodeColumn(codes, dictionary, bits(`unreadable:${key}`)),
        });
      }
    } else if (kind === 'text' && !columns.has(key) && table.getChild(`number:${key}`) === null) {
      const { codes, dictionary } = texts(name);
      columns.set(key, new CodeColumn(codes, dictionary, bits(`unreadable:${key}`)));
    } else if (kind === 'events') {
      const data = dataOf(name);
      const at = data?.children[0]?.values as Float64Array | undefined;
      // Buffers may be longer than what they hold.
      const starts = Uint32Array.from((data?.valueOffsets as Int32Array | undefined)?.subarray(0, size + 1) ?? [0]);
      events.set(key, { starts, at: at?.slice(0, starts[size]) ?? new Float64Array(0) });
    }
  }
  const stage = texts('stage');
  const population: Population = {
    size,
    ids: Uint32Array.from((dataOf('id')?.values as Uint32Array).subarray(0, size)),
    arrived: numbers('arrived'),
    closed: numbers('closed'),
    touched: numbers('touched'),
    columns,
    events,
    standing: {
      stage: stage.codes,
      owner: texts('owner').codes,
      queue: texts('queue').codes,
      pin: texts('pin').codes,
      keys: stage.dictionary,
      open: bits('open') ?? bitsFrom(new Uint8Array(0), size),
      inBay: bits('in_bay') ?? bitsFrom(new Uint8Array(0), size),
      looks,
    },
    withheld: new Map(withheld),
    given: new Map(),
  };
  return { population, meta };
}
