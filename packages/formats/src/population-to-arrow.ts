import type { Bits, Events, Instant, PastCharter, Population } from '@relvik/core';
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
  RecordBatchStreamWriter,
  Schema,
  Struct,
  Uint32,
  Utf8,
  vectorFromArray,
} from 'apache-arrow';

/** When a population was read, and what it can be told apart from later ones by. */
export interface PopulationMeta {
  readonly asOf: Instant;
  readonly version: string;
  /** The past charters that still govern open records. */
  readonly past: readonly PastCharter[];
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

/** Records in a batch: a whole number of bytes of every bitmap. */
const BATCH = 65_536;

/** The population as batches of one schema, each with the columns of some records. */
function batchesOf(population: Population, meta: PopulationMeta): Iterable<RecordBatch> {
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
  putCodes('came_into', standing.cameInto, standing.keys);
  put('stage_since', numbersData(standing.stageSince));
  putCodes('way', population.way.codes, population.way.dictionary);
  put('charter', makeData({ type: new Uint32(), length: size, nullCount: 0, data: standing.charter }));
  putBits('open', standing.open);
  putBits('in_bay', standing.inBay);
  putBits('dealt', standing.dealt);
  for (const [gate, bits] of standing.looks) putBits(`look:${gate}`, bits);
  for (const [field, column] of population.columns) {
    const codes = column.kind === 'money' ? column.currencies : column.kind === 'codes' ? column : null;
    const numbers = column.kind === 'money' ? column.minor : column.kind === 'numbers' ? column.values : null;
    if (numbers !== null) put(`number:${field}`, numbersData(numbers));
    if (column.kind === 'money')
      put(`entered:${field}`, makeData({ type: new Int32(), length: size, nullCount: 0, data: column.entered }));
    if (codes !== null) putCodes(`text:${field}`, codes.codes, codes.dictionary);
    const { unreadable } = column.kind === 'money' ? column.currencies : column;
    putBits(`unreadable:${field}`, unreadable);
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
  const whole = new RecordBatch(schema, struct);
  const starts = Array.from({ length: Math.max(1, Math.ceil(size / BATCH)) }, (_, b) => b * BATCH);
  return starts.map((from) => whole.slice(from, Math.min(size, from + BATCH)));
}

/**
 * Writes a population as one Apache Arrow IPC stream, some records a batch.
 *
 * Columns: `id`, `arrived`, `closed`, `touched` (milliseconds), `stage`, `stage_since`, `way`, `owner`, `queue`, `pin`, `came_into`, `open`, `in_bay`, `dealt`; `look:GATE`;
 * for each field `text:F`, or `number:F`, or `number:F` and `text:F` for money (its currency), and `unreadable:F`,
 * `unconverted:F` where any value is; `events:KIND`, the instants of activities, newest first.
 */
export function populationToArrow(population: Population, meta: PopulationMeta): Uint8Array {
  return RecordBatchStreamWriter.writeAll(batchesOf(population, meta)).toUint8Array(true);
}
