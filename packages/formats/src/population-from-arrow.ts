import {
  type Bits,
  CodeColumn,
  type Column,
  type Events,
  MoneyColumn,
  noBits,
  NumberColumn,
  type Population,
  type Withheld,
} from '@relvik/core';
import { type Data, tableFromIPC } from 'apache-arrow';
import type { PopulationMeta } from './population-to-arrow';

/** Calls back with each place whose bit is not set, below `length`; bytes in which all are set are passed over. */
function eachUnset(bitmap: Uint8Array, length: number, visit: (i: number) => void): void {
  for (let byte = 0; byte << 3 < length; byte += 1) {
    const set = bitmap[byte] as number;
    if (set === 0xff) continue;
    for (let i = byte << 3; i < Math.min(length, (byte + 1) << 3); i += 1) if (((set >>> (i & 7)) & 1) === 0) visit(i);
  }
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
  /** The parts of a column, one a batch, and the record that each begins with. */
  function* partsOf(name: string): Generator<readonly [Data, number]> {
    let from = 0;
    for (const data of table.getChild(name)?.data ?? []) {
      yield [data as Data, from];
      from += (data as Data).length;
    }
  }
  const bits = (name: string): Bits | null => {
    if (table.getChild(name) === null) return null;
    const all = noBits(size);
    const bytes = new Uint8Array(all.buffer);
    // Every batch but the last has a whole number of bytes.
    for (const [data, from] of partsOf(name))
      bytes.set((data.values as Uint8Array).subarray(0, (data.length + 7) >>> 3), from >>> 3);
    if ((size & 31) !== 0) all[all.length - 1] = (all[all.length - 1] as number) & ((1 << (size & 31)) - 1);
    return all;
  };
  const numbers = (name: string): Float64Array => {
    const values = new Float64Array(size).fill(NaN);
    for (const [data, from] of partsOf(name)) {
      values.set((data.values as Float64Array).subarray(0, data.length), from);
      if (data.nullCount > 0)
        eachUnset(data.nullBitmap, data.length, (i) => {
          values[from + i] = NaN;
        });
    }
    return values;
  };
  const texts = (name: string): { readonly codes: Uint32Array; readonly dictionary: string[] } => {
    const codes = new Uint32Array(size);
    let dictionary: string[] = [];
    for (const [data, from] of partsOf(name)) {
      const keys = data.values as Int32Array;
      for (let i = 0; i < data.length; i += 1) codes[from + i] = (keys[i] as number) + 1;
      if (data.nullCount > 0)
        eachUnset(data.nullBitmap, data.length, (i) => {
          codes[from + i] = 0;
        });
      // All batches share one dictionary.
      if (from === 0) dictionary = [...((data.dictionary ?? []) as Iterable<string>)];
    }
    return { codes, dictionary };
  };
  const happened = (name: string): Events => {
    const starts = new Uint32Array(size + 1);
    const at: Float64Array[] = [];
    let before = 0;
    for (const [data, from] of partsOf(name)) {
      const offsets = data.valueOffsets as Int32Array;
      const first = offsets[0] ?? 0;
      for (let i = 1; i <= data.length; i += 1) starts[from + i] = before + (offsets[i] as number) - first;
      at.push((data.children[0]?.values as Float64Array).subarray(first, offsets[data.length]));
      before = starts[from + data.length] as number;
    }
    const all = new Float64Array(before);
    let filled = 0;
    for (const part of at) {
      all.set(part, filled);
      filled += part.length;
    }
    return { starts, at: all };
  };

  const days = (name: string): Int32Array => {
    const values = new Int32Array(size);
    for (const [data, from] of partsOf(name)) values.set((data.values as Int32Array).subarray(0, data.length), from);
    return values;
  };
  const columns = new Map<string, Column>();
  const events = new Map<string, Events>();
  const looks = new Map<string, Bits>();
  for (const { name } of table.schema.fields) {
    const at = name.indexOf(':');
    const [kind, key] = [name.slice(0, at), name.slice(at + 1)];
    if (kind === 'look') looks.set(key, bits(name) ?? noBits(size));
    else if (kind === 'number') {
      const hasText = table.getChild(`text:${key}`) !== null;
      if (!hasText) columns.set(key, new NumberColumn(numbers(name), bits(`unreadable:${key}`)));
      else {
        const { codes, dictionary } = texts(`text:${key}`);
        const currencies = new CodeColumn(codes, dictionary, bits(`unreadable:${key}`));
        columns.set(key, new MoneyColumn(numbers(name), days(`entered:${key}`), currencies));
      }
    } else if (kind === 'text' && !columns.has(key) && table.getChild(`number:${key}`) === null) {
      const { codes, dictionary } = texts(name);
      columns.set(key, new CodeColumn(codes, dictionary, bits(`unreadable:${key}`)));
    } else if (kind === 'events') events.set(key, happened(name));
  }
  const whole = (name: string): Uint32Array => {
    const values = new Uint32Array(size);
    for (const [data, from] of partsOf(name)) values.set((data.values as Uint32Array).subarray(0, data.length), from);
    return values;
  };
  const stage = texts('stage');
  const way = texts('way');
  const population: Population = {
    // Other kinds stay on the server.
    kind: 'lead',
    size,
    ids: whole('id'),
    arrived: numbers('arrived'),
    closed: numbers('closed'),
    touched: numbers('touched'),
    way: new CodeColumn(way.codes, way.dictionary, null),
    columns,
    events,
    standing: {
      stage: stage.codes,
      owner: texts('owner').codes,
      queue: texts('queue').codes,
      pin: texts('pin').codes,
      cameInto: texts('came_into').codes,
      stageSince: numbers('stage_since'),
      keys: stage.dictionary,
      charter: whole('charter'),
      open: bits('open') ?? noBits(size),
      inBay: bits('in_bay') ?? noBits(size),
      dealt: bits('dealt') ?? noBits(size),
      looks,
    },
    withheld: new Map(withheld),
    given: new Map(),
  };
  return { population, meta };
}
