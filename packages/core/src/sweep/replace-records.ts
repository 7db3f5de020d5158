import { type Bits, hasBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column, MoneyColumn, NumberColumn } from '../column/column';
import type { Events } from '../column/events';
import type { Population, StandingColumns } from './population';

/** Neighbours that come from one population: `from` up to `to`, the end not belonging to it. */
interface Run {
  readonly of: 0 | 1;
  readonly from: number;
  readonly to: number;
}

/** Where the records come from, in their order: the population before (0) or the part that replaces (1). */
interface Origins {
  readonly size: number;
  readonly runs: readonly Run[];
}

/**
 * A population with some of its records replaced, added or taken out; its indexes are made anew when they are asked for.
 *
 * Lookup results (`given`) are not carried over.
 *
 * @param changed ids of all records that changed
 * @param part those of them that are there now, with the same fields
 */
export function replaceRecords(before: Population, changed: ReadonlySet<number>, part: Population): Population {
  const origins = placesOf(before, changed, part);
  const numbers = (of: (population: Population) => Float64Array): Float64Array =>
    mergeNumbers(origins, of(before), of(part));
  return {
    kind: before.kind,
    size: origins.size,
    ids: mergeInto(new Uint32Array(origins.size), origins, before.ids, part.ids),
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

function placesOf(before: Population, changed: ReadonlySet<number>, part: Population): Origins {
  const runs: Run[] = [];
  let size = 0;
  const take = (of: 0 | 1, from: number, to: number): void => {
    if (from === to) return;
    size += to - from;
    const last = runs.at(-1);
    if (last?.of === of && last.to === from) runs[runs.length - 1] = { of, from: last.from, to };
    else runs.push({ of, from, to });
  };
  let next = 0;
  const takePart = (below: number): void => {
    const from = next;
    while (next < part.size && (part.ids[next] as number) < below) next += 1;
    take(1, from, next);
  };
  let kept = 0;
  for (let place = 0; place < before.size; place += 1) {
    const id = before.ids[place] as number;
    const isGone = changed.has(id);
    const isAfterNew = next < part.size && (part.ids[next] as number) < id;
    if (!isGone && !isAfterNew) continue;
    take(0, kept, place);
    takePart(id);
    kept = isGone ? place + 1 : place;
  }
  take(0, kept, before.size);
  takePart(Infinity);
  return { size, runs };
}

function mergeInto<A extends Float64Array | Int32Array | Uint32Array>(
  merged: A,
  { runs }: Origins,
  before: A,
  part: A,
): A {
  let at = 0;
  for (const { of, from, to } of runs) {
    merged.set((of === 0 ? before : part).subarray(from, to), at);
    at += to - from;
  }
  return merged;
}

function mergeNumbers(origins: Origins, before: Float64Array, part: Float64Array): Float64Array {
  return mergeInto(new Float64Array(origins.size), origins, before, part);
}

/** @returns null where no bit is set */
function mergeBits({ size, runs }: Origins, before: Bits | null, part: Bits | null): Bits | null {
  if (before === null && part === null) return null;
  const merged = noBits(size);
  let any = false;
  let at = 0;
  for (const { of, from, to } of runs) {
    const bits = of === 0 ? before : part;
    if (bits !== null)
      for (let place = from; place < to; place += 1)
        if (hasBit(bits, place)) {
          setBit(merged, at + place - from);
          any = true;
        }
    at += to - from;
  }
  return any ? merged : null;
}

/** Codes into one dictionary of what occurs, in the order in which it does. */
class Recoder {
  readonly dictionary: string[] = [];
  private readonly newCodes: Uint32Array;
  /** For each entry of the part's dictionary its code in the one before, or one after all of those. */
  private readonly partCodes: Uint32Array;

  constructor(
    private readonly before: readonly string[],
    private readonly part: readonly string[],
  ) {
    this.newCodes = new Uint32Array(before.length + part.length + 1);
    this.partCodes = Uint32Array.from([0, ...part.map((_, d) => before.length + 1 + d)]);
    const places = new Map(part.map((text, d) => [text, d + 1]));
    for (let d = 0; d < before.length; d += 1) {
      const place = places.get(before[d] as string);
      if (place !== undefined) this.partCodes[place] = d + 1;
    }
  }

  /** Codes of the part as if they were of the population before. */
  fromPart(codes: Uint32Array): Uint32Array {
    return codes.map((code) => this.partCodes[code] as number);
  }

  /**
   * Gives codes in place: codes of the population before, or from {@link fromPart}, become codes into the dictionary.
   *
   * @param columns those of one record together, one record after the other
   */
  recode(...columns: readonly Uint32Array[]): void {
    const { newCodes } = this;
    const size = columns[0]?.length ?? 0;
    for (let i = 0; i < size; i += 1)
      for (const codes of columns) {
        const old = codes[i] as number;
        if (old === 0) continue;
        const known = newCodes[old] as number;
        codes[i] = known === 0 ? this.added(old) : known;
      }
  }

  private added(old: number): number {
    const { before, part } = this;
    const code = this.dictionary.push(
      (old <= before.length ? before[old - 1] : part[old - 1 - before.length]) as string,
    );
    this.newCodes[old] = code;
    return code;
  }
}

function mergeCodes(origins: Origins, before: CodeColumn, part: CodeColumn): CodeColumn {
  const recoder = new Recoder(before.dictionary, part.dictionary);
  const codes = mergeInto(new Uint32Array(origins.size), origins, before.codes, recoder.fromPart(part.codes));
  recoder.recode(codes);
  return new CodeColumn(codes, recoder.dictionary, mergeBits(origins, before.unreadable, part.unreadable));
}

function mergeColumns(origins: Origins, before: Column, part: Column): Column {
  if (before.kind === 'codes' && part.kind === 'codes') return mergeCodes(origins, before, part);
  if (before.kind === 'numbers' && part.kind === 'numbers') return mergeNumberColumns(origins, before, part);
  if (before.kind === 'money' && part.kind === 'money')
    return new MoneyColumn(
      mergeNumbers(origins, before.minor, part.minor),
      mergeInto(new Int32Array(origins.size), origins, before.entered, part.entered),
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

function mergeEvents({ size, runs }: Origins, before: Events | undefined, part: Events | undefined): Events {
  const starts = new Uint32Array(size + 1);
  const of = [before, part] as const;
  const total = runs.reduce((sum, run) => sum + countIn(of[run.of], run), 0);
  const at = new Float64Array(total);
  let place = 0;
  let count = 0;
  for (const run of runs) {
    const { from, to } = run;
    const events = of[run.of];
    if (events === undefined) starts.fill(count, place + 1, place + 1 + to - from);
    else {
      const [first, last] = [events.starts[from] as number, events.starts[to] as number];
      at.set(events.at.subarray(first, last), count);
      for (let i = from; i < to; i += 1)
        starts[place + 1 + i - from] = count + (events.starts[i + 1] as number) - first;
      count += last - first;
    }
    place += to - from;
  }
  return { starts, at };
}

function countIn(events: Events | undefined, { from, to }: Run): number {
  return events === undefined ? 0 : (events.starts[to] as number) - (events.starts[from] as number);
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
const KEYED = ['stage', 'pin', 'cameInto', 'owner', 'queue'] as const;

function mergeStanding(origins: Origins, before: StandingColumns, part: StandingColumns): StandingColumns {
  const { size } = origins;
  const recoder = new Recoder(before.keys, part.keys);
  const merged = KEYED.map((name) =>
    mergeInto(new Uint32Array(size), origins, before[name], recoder.fromPart(part[name])),
  );
  recoder.recode(...merged);
  const [stage, pin, cameInto, owner, queue] = merged as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  const gates = new Set([...before.looks.keys(), ...part.looks.keys()]);
  return {
    ...{ stage, pin, cameInto, owner, queue },
    stageSince: mergeNumbers(origins, before.stageSince, part.stageSince),
    keys: recoder.dictionary,
    charter: mergeInto(new Uint32Array(size), origins, before.charter, part.charter),
    open: mergeBits(origins, before.open, part.open) ?? noBits(size),
    dealt: mergeBits(origins, before.dealt, part.dealt) ?? noBits(size),
    inBay: mergeBits(origins, before.inBay, part.inBay) ?? noBits(size),
    looks: new Map(
      [...gates].flatMap((gate): [string, Bits][] => {
        const bits = mergeBits(origins, before.looks.get(gate) ?? null, part.looks.get(gate) ?? null);
        return bits === null ? [] : [[gate, bits]];
      }),
    ),
  };
}
