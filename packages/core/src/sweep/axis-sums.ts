import { heldTo } from '../score/activity-points';
import { fadedByAge, HOURS_A_DAY } from '../score/fade';
import { type Micro, toMicro } from '../score/points';
import type { ReadySignal } from '../score/score-record';
import type { ActivitySignal, Axis, SignalGroup, SilenceSignal } from '../score/score-set';
import { allBits, type Bits, countBits, noBits } from './bits';
import type { Mask } from './mask';
import type { Resident } from './resident';

/** Amounts of their own for some records; the others get none. */
interface Amounts {
  readonly records: Uint32Array;
  readonly micros: Float64Array;
  /** The same records as bits. */
  readonly having: Bits;
}

/** What one signal adds: the same points wherever a mask is set, or amounts. */
type Part =
  | {
      readonly kind: 'mask';
      readonly id: string;
      readonly group: string | null;
      readonly points: Micro;
      readonly mask: Mask;
    }
  | { readonly kind: 'amounts'; readonly id: string; readonly group: string | null; readonly amounts: Amounts };

/** The amounts of an activity signal, each event looked up in a table of faded points by age. */
function activityAmounts(signal: ActivitySignal, resident: Resident): Amounts {
  const events = resident.eventsOf(signal.activity);
  if (events === null)
    return { records: new Uint32Array(0), micros: new Float64Array(0), having: noBits(resident.population.size) };
  const { starts, hours, records, having, oldest } = events;
  const each = toMicro(signal.points);
  const reach = signal.window === null ? oldest + 1 : Math.min(oldest + 1, signal.window * HOURS_A_DAY);
  const table = fadedByAge(each, signal.fade, reach);
  const most = signal.most ?? hours.length;
  const micros = new Float64Array(records.length);
  for (let n = 0; n < records.length; n += 1) {
    const first = starts[n] as number;
    const end = Math.min(starts[n + 1] as number, first + most);
    let sum = 0;
    for (let k = first; k < end; k += 1) {
      const age = hours[k] as number;
      if (age >= reach) break;
      sum += table[age] as number;
    }
    micros[n] = sum;
  }
  if (signal.cap !== null)
    for (let n = 0; n < micros.length; n += 1) micros[n] = heldTo(signal.cap, micros[n] as number);
  return { records, micros, having };
}

/** The amounts of a signal for silence. */
function silenceAmounts(signal: SilenceSignal, resident: Resident): Amounts {
  const silent = resident.silentHours();
  const each = toMicro(signal.points);
  const step = signal.every * HOURS_A_DAY;
  const most = signal.most ?? silent.length;
  const records = new Uint32Array(silent.length);
  const micros = new Float64Array(silent.length);
  const having = noBits(silent.length);
  let count = 0;
  for (let i = 0; i < silent.length; i += 1) {
    const steps = Math.floor((silent[i] as number) / step);
    if (steps === 0) continue;
    records[count] = i;
    micros[count] = Math.min(most, steps) * each;
    having[i >>> 5] = (having[i >>> 5] as number) | (1 << (i & 31));
    count += 1;
  }
  return { records: records.subarray(0, count), micros: micros.subarray(0, count), having };
}

function partOf(signal: ReadySignal, resident: Resident, before: Part | undefined): Part {
  const { group } = signal;
  if (signal.kind === 'attribute') {
    const mask = resident.answerTo(signal.ready);
    return { kind: 'mask', id: '', group, points: toMicro(signal.points), mask };
  }
  const id = JSON.stringify({ ...signal, name: '', group: null });
  if (before?.kind === 'amounts' && before.id === id) return { ...before, group };
  const amounts = signal.kind === 'activity' ? activityAmounts(signal, resident) : silenceAmounts(signal, resident);
  return { kind: 'amounts', id, group, amounts };
}

function isSame(a: Part, b: Part): boolean {
  if (a.group !== b.group) return false;
  if (a.kind === 'mask') return b.kind === 'mask' && a.mask === b.mask && a.points === b.points;
  return b.kind === 'amounts' && a.id === b.id;
}

/**
 * The sums of one axis over all records, in millionths of a point, kept up to date signal by signal.
 *
 * Sums are of whole numbers, so adding what changed gives the same bits as adding everything anew.
 */
export class AxisSums {
  private readonly parts = new Map<string, Part>();
  private readonly ungrouped: Float64Array;
  private readonly grouped = new Map<string, Float64Array>();
  private caps: readonly SignalGroup[] = [];
  /** Records that some signal of the axis can't judge; null: none. */
  unjudged: Bits | null = null;
  /** Those for which that changed with the last take; null: none. */
  reopened: Bits | null = null;

  constructor(
    private readonly axis: Axis,
    private readonly resident: Resident,
  ) {
    this.ungrouped = new Float64Array(resident.population.size);
  }

  /** Takes over the signals of a score set; returns the records whose sum, or judgement, may have changed. */
  take(signals: readonly ReadySignal[], groups: readonly SignalGroup[]): Bits {
    const touched = noBits(this.resident.population.size);
    const gone = new Set(this.parts.keys());
    for (const signal of signals) {
      if (!signal.on || signal.axis !== this.axis) continue;
      gone.delete(signal.key);
      const before = this.parts.get(signal.key);
      const after = partOf(signal, this.resident, before);
      if (before !== undefined && isSame(before, after)) continue;
      this.change(before, after, touched);
      this.parts.set(signal.key, after);
    }
    for (const key of gone) {
      const before = this.parts.get(key);
      if (before !== undefined) this.change(before, undefined, touched);
      this.parts.delete(key);
    }
    const caps = groups.filter((group) => group.axis === this.axis);
    const recapped = JSON.stringify(caps) !== JSON.stringify(this.caps);
    this.caps = caps;
    this.takeUnjudged(touched);
    return recapped ? allBits(this.resident.population.size) : touched;
  }

  /** The sum of one record, each group held to its cap. */
  sumOf(record: number): Micro {
    let sum = this.ungrouped[record] as number;
    for (const { key, cap } of this.caps) {
      const group = this.grouped.get(key);
      if (group !== undefined) sum += heldTo(cap, group[record] as number);
    }
    return sum;
  }

  /** The sums of all records, without a look at groups where there are none. */
  get plainSums(): Float64Array | null {
    return this.caps.length === 0 ? this.ungrouped : null;
  }

  /** How much a signal gives in all, in millionths, and to how many records. */
  shareOf(signal: string): { readonly records: number; readonly micro: Micro } {
    const part = this.parts.get(signal);
    let records = 0;
    let micro = 0;
    if (part?.kind === 'amounts') {
      for (const amount of part.amounts.micros) {
        if (amount === 0) continue;
        records += 1;
        micro += amount;
      }
    } else if (part !== undefined) {
      records = countBits(part.mask.yes);
      micro = records * part.points;
    }
    return { records, micro };
  }

  private sumsFor(group: string | null): Float64Array {
    if (group === null) return this.ungrouped;
    let sums = this.grouped.get(group);
    if (sums === undefined) {
      sums = new Float64Array(this.resident.population.size);
      this.grouped.set(group, sums);
    }
    return sums;
  }

  private change(before: Part | undefined, after: Part | undefined, touched: Bits): void {
    if (before?.kind === 'mask' && after?.kind === 'mask' && before.group === after.group) {
      const sums = this.sumsFor(after.group);
      if (before.mask === after.mask) add(sums, after.mask.yes, after.points - before.points, touched);
      else if (before.points === after.points) exchange(sums, before.mask.yes, after.mask.yes, after.points, touched);
      else {
        add(sums, before.mask.yes, -before.points, touched);
        add(sums, after.mask.yes, after.points, touched);
      }
      return;
    }
    if (before !== undefined) this.apply(before, -1, touched);
    if (after !== undefined) this.apply(after, 1, touched);
  }

  private apply(part: Part, sign: 1 | -1, touched: Bits): void {
    const sums = this.sumsFor(part.group);
    if (part.kind === 'mask') {
      add(sums, part.mask.yes, sign * part.points, touched);
      return;
    }
    const { records, micros, having } = part.amounts;
    for (let n = 0; n < records.length; n += 1) {
      const i = records[n] as number;
      sums[i] = (sums[i] as number) + sign * (micros[n] as number);
    }
    for (let w = 0; w < touched.length; w += 1) touched[w] = (touched[w] as number) | (having[w] as number);
  }

  /** Gathers what can't be judged; where that changed, the record is touched. */
  private takeUnjudged(touched: Bits): void {
    let gathered: Bits | null = null;
    for (const part of this.parts.values()) {
      if (part.kind !== 'mask' || part.mask.unjudged === null) continue;
      gathered ??= noBits(this.resident.population.size);
      const { unjudged } = part.mask;
      for (let w = 0; w < gathered.length; w += 1) gathered[w] = (gathered[w] as number) | (unjudged[w] as number);
    }
    const before = this.unjudged;
    this.reopened = before === null && gathered === null ? null : noBits(this.resident.population.size);
    if (this.reopened !== null)
      for (let w = 0; w < touched.length; w += 1) {
        const changed =
          (before === null ? 0 : (before[w] as number)) ^ (gathered === null ? 0 : (gathered[w] as number));
        this.reopened[w] = changed;
        touched[w] = (touched[w] as number) | changed;
      }
    this.unjudged = gathered;
  }
}

/** Adds points where a bit is set. */
function add(sums: Float64Array, bits: Bits, points: Micro, touched: Bits): void {
  if (points === 0) return;
  for (let w = 0; w < bits.length; w += 1) {
    const word = bits[w] as number;
    if (word === 0) continue;
    touched[w] = (touched[w] as number) | word;
    const base = w << 5;
    for (let rest = word; rest !== 0; rest &= rest - 1) {
      const i = base + 31 - Math.clz32(rest & -rest);
      sums[i] = (sums[i] as number) + points;
    }
  }
}

/** Takes points from where only the old mask is set and adds them where only the new one is. */
function exchange(sums: Float64Array, before: Bits, after: Bits, points: Micro, touched: Bits): void {
  for (let w = 0; w < before.length; w += 1) {
    const changed = (before[w] as number) ^ (after[w] as number);
    if (changed === 0) continue;
    touched[w] = (touched[w] as number) | changed;
    const base = w << 5;
    for (let rest = changed; rest !== 0; rest &= rest - 1) {
      const bit = rest & -rest;
      const i = base + 31 - Math.clz32(bit);
      sums[i] = (sums[i] as number) + (((after[w] as number) & bit) === 0 ? -points : points);
    }
  }
}
