import { type Bits, hasBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column, MoneyColumn, NumberColumn } from '../column/column';
import type { Events } from '../column/events';
import type { Population, StandingColumns } from './population';

/** Where each record comes from: a place in the population before, or −1 − its place in the part that replaces. */
type Origins = Int32Array;

/**
 * A population with some of its records replaced, added or taken out; its indexes are made anew when they are asked for.
 *
 * Lookup results (`given`) are not carried over.
 *
 * @param changed ids of all records that changed
 * @param part those of them that are there now, with the same fields
 */
export function replaceRecords(before: Population, changed: ReadonlySet<number>, part: Population): Population {
  const { ids, origins } = placesOf(before, changed, part);
  const numbers = (of: (population: Population) => Float64Array): Float64Array =>
    mergeNumbers(origins, of(before), of(part));
  return {
    kind: before.kind,
    size: ids.length,
    ids,
    arrived: numbers((one) => one.arrived),
    closed: numbers((one) => one.closed),
    touched: numbers((one) => one.touched),
    way: mergeCodes(origins, before.way, part.way),
    columns: new Map(
      [...before.columns].map(([key, column]) => [key, mergeColumns(origins, column, part.columns.get(key) as Column)]),
    ),
    events: mergeAllEvents(origins, before.events, part.events),
    standing: mergeStanding(origins, before.standing, part.standing),
    withheld: before.withheld,
    given: new Map(),
  };
}

function placesOf(
  before: Population,
  changed: ReadonlySet<number>,
  part: Population,
): { ids: Uint32Array; origins: Origins } {
  const ids: number[] = [];
  const origins: number[] = [];
  let next = 0;
  const takePart = (below: number): void => {
    for (; next < part.size && (part.ids[next] as number) < below; next += 1) {
      ids.push(part.ids[next] as number);
      origins.push(-1 - next);
    }
  };
  for (let place = 0; place < before.size; place += 1) {
    const id = before.ids[place] as number;
    if (changed.has(id)) continue;
    takePart(id);
    ids.push(id);
    origins.push(place);
  }
  takePart(Infinity);
  return { ids: Uint32Array.from(ids), origins: Int32Array.from(origins) };
}

function mergeNumbers(origins: Origins, before: Float64Array, part: Float64Array): Float64Array {
  return mergeInto(new Float64Array(origins.length), origins, before, part);
}

function mergeInto<A extends Float64Array | Int32Array | Uint32Array>(
  merged: A,
  origins: Origins,
  before: A,
  part: A,
): A {
  for (let i = 0; i < origins.length; i += 1) {
    const at = origins[i] as number;
    merged[i] = (at >= 0 ? before[at] : part[-1 - at]) as number;
  }
  return merged;
}

/** @returns null where no bit is set */
function mergeBits(origins: Origins, before: Bits | null, part: Bits | null): Bits | null {
  if (before === null && part === null) return null;
  const merged = noBits(origins.length);
  let any = false;
  for (let i = 0; i < origins.length; i += 1) {
    const at = origins[i] as number;
    const bits = at >= 0 ? before : part;
    if (bits === null || !hasBit(bits, at >= 0 ? at : -1 - at)) continue;
    setBit(merged, i);
    any = true;
  }
  return any ? merged : null;
}

/** Codes into a dictionary of what occurs, in the order in which it does. */
class Recoder {
  readonly dictionary: string[] = [];
  private readonly known = new Map<string, number>();
  private readonly codes: readonly [Uint32Array, Uint32Array];

  constructor(private readonly dictionaries: readonly [before: readonly string[], part: readonly string[]]) {
    const [before, part] = dictionaries;
    this.codes = [new Uint32Array(before.length + 1), new Uint32Array(part.length + 1)];
  }

  /** @param of 0: a code of the population before; 1: one of the part */
  code(of: 0 | 1, old: number): number {
    if (old === 0) return 0;
    const known = this.codes[of][old] as number;
    if (known !== 0) return known;
    const text = this.dictionaries[of][old - 1] as string;
    let code = this.known.get(text);
    if (code === undefined) {
      code = this.dictionary.push(text);
      this.known.set(text, code);
    }
    this.codes[of][old] = code;
    return code;
  }
}

function mergeCodes(origins: Origins, before: CodeColumn, part: CodeColumn): CodeColumn {
  const recoder = new Recoder([before.dictionary, part.dictionary]);
  const codes = new Uint32Array(origins.length);
  for (let i = 0; i < origins.length; i += 1) {
    const at = origins[i] as number;
    codes[i] = at >= 0 ? recoder.code(0, before.codes[at] as number) : recoder.code(1, part.codes[-1 - at] as number);
  }
  return new CodeColumn(codes, recoder.dictionary, mergeBits(origins, before.unreadable, part.unreadable));
}

function mergeColumns(origins: Origins, before: Column, part: Column): Column {
  if (before.kind === 'codes' && part.kind === 'codes') return mergeCodes(origins, before, part);
  if (before.kind === 'numbers' && part.kind === 'numbers') return mergeNumberColumns(origins, before, part);
  if (before.kind === 'money' && part.kind === 'money')
    return new MoneyColumn(
      mergeNumbers(origins, before.minor, part.minor),
      mergeInto(new Int32Array(origins.length), origins, before.entered, part.entered),
      mergeCodes(origins, before.currencies, part.currencies),
    );
  throw new Error(`A column of ${before.kind} can't be replaced by one of ${part.kind}`);
}

function mergeNumberColumns(origins: Origins, before: NumberColumn, part: NumberColumn): NumberColumn {
  return new NumberColumn(
    mergeNumbers(origins, before.values, part.values),
    mergeBits(origins, before.unreadable, part.unreadable),
  );
}

function mergeEvents(origins: Origins, before: Events | undefined, part: Events | undefined): Events {
  const starts = new Uint32Array(origins.length + 1);
  const at = new Float64Array((before?.at.length ?? 0) + (part?.at.length ?? 0));
  let count = 0;
  for (let i = 0; i < origins.length; i += 1) {
    const origin = origins[i] as number;
    const events = origin >= 0 ? before : part;
    const place = origin >= 0 ? origin : -1 - origin;
    if (events !== undefined)
      for (let k = events.starts[place] as number; k < (events.starts[place + 1] as number); k += 1) {
        at[count] = events.at[k] as number;
        count += 1;
      }
    starts[i + 1] = count;
  }
  return { starts, at: at.slice(0, count) };
}

/** Kinds of activities of which none is left are gone. Those with certain properties have no kind's key. */
function mergeAllEvents(
  origins: Origins,
  before: ReadonlyMap<string, Events>,
  part: ReadonlyMap<string, Events>,
): Map<string, Events> {
  const kinds = [...new Set([...before.keys(), ...part.keys()])];
  const merged = kinds.map((kind) => [kind, mergeEvents(origins, before.get(kind), part.get(kind))] as const);
  return new Map(merged.filter(([, { at }]) => at.length > 0));
}

/** The columns of a standing that are codes into its keys, in the order in which keys are added. */
const KEYED = ['stage', 'pin', 'owner', 'queue'] as const;

function mergeStanding(origins: Origins, before: StandingColumns, part: StandingColumns): StandingColumns {
  const recoder = new Recoder([before.keys, part.keys]);
  const size = origins.length;
  const columns = KEYED.map((name) => ({ old: before[name], own: part[name], merged: new Uint32Array(size) }));
  for (let i = 0; i < size; i += 1) {
    const at = origins[i] as number;
    for (let c = 0; c < columns.length; c += 1) {
      const { old, own, merged } = columns[c] as (typeof columns)[number];
      merged[i] = at >= 0 ? recoder.code(0, old[at] as number) : recoder.code(1, own[-1 - at] as number);
    }
  }
  const [stage, pin, owner, queue] = columns.map(({ merged }) => merged) as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  const gates = new Set([...before.looks.keys(), ...part.looks.keys()]);
  return {
    ...{ stage, pin, owner, queue },
    stageSince: mergeNumbers(origins, before.stageSince, part.stageSince),
    keys: recoder.dictionary,
    charter: mergeInto(new Uint32Array(size), origins, before.charter, part.charter),
    open: mergeBits(origins, before.open, part.open) ?? noBits(size),
    inBay: mergeBits(origins, before.inBay, part.inBay) ?? noBits(size),
    looks: new Map(
      [...gates].flatMap((gate): [string, Bits][] => {
        const bits = mergeBits(origins, before.looks.get(gate) ?? null, part.looks.get(gate) ?? null);
        return bits === null ? [] : [[gate, bits]];
      }),
    ),
  };
}
