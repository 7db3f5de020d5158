import { heldTo } from '../score/activity-points';
import { faded, HOURS_A_DAY } from '../score/fade';
import { type Micro, toMicro } from '../score/points';
import type { ReadySignal } from '../score/score-record';
import type { ActivitySignal, Axis, SignalGroup, SilenceSignal } from '../score/score-set';
import { allBits, type Bits, noBits } from './bits';
import type { Mask } from './mask';
import type { Resident } from './resident';

/** What one signal adds: the same points wherever a mask is set, or an amount of its own for each record. */
type Part =
  | {
      readonly kind: 'mask';
      readonly id: string;
      readonly group: string | null;
      readonly points: Micro;
      readonly mask: Mask;
    }
  | { readonly kind: 'amounts'; readonly id: string; readonly group: string | null; readonly amounts: Float64Array };

/** The amounts of an activity signal, each event looked up in a table of faded points by age. */
export function activityAmounts(signal: ActivitySignal, resident: Resident): Float64Array {
  const amounts = new Float64Array(resident.population.size);
  const events = resident.eventsOf(signal.activity);
  if (events === null) return amounts;
  const { starts, hours, records, oldest } = events;
  const each = toMicro(signal.points);
  const reach = signal.window === null ? oldest + 1 : Math.min(oldest + 1, signal.window * HOURS_A_DAY);
  const table = Float64Array.from({ length: reach }, (_, age) => faded(each, signal.fade, age));
  const most = signal.most ?? Infinity;
  for (const record of records) {
    const first = starts[record] as number;
    const end = Math.min(starts[record + 1] as number, first + most);
    let sum = 0;
    for (let k = first; k < end; k += 1) {
      const age = hours[k] as number;
      if (age >= reach) break;
      sum += table[age] as number;
    }
    amounts[record] = heldTo(signal.cap, sum);
  }
  return amounts;
}

/** The amounts of a signal for silence. */
function silenceAmounts(signal: SilenceSignal, resident: Resident): Float64Array {
  const each = toMicro(signal.points);
  const step = signal.every * HOURS_A_DAY;
  const most = signal.most ?? Infinity;
  return Float64Array.from(resident.silentHours(), (hours) => Math.min(most, Math.floor(hours / step)) * each);
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
      for (const amount of part.amounts) {
        if (amount === 0) continue;
        records += 1;
        micro += amount;
      }
    } else if (part !== undefined) {
      eachWord(part.mask.yes, (_, word) => {
        for (let rest = word; rest !== 0; rest &= rest - 1) records += 1;
      });
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
    const { amounts } = part;
    for (let i = 0; i < amounts.length; i += 1) {
      const amount = amounts[i] as number;
      if (amount === 0) continue;
      sums[i] = (sums[i] as number) + sign * amount;
      touched[i >>> 5] = (touched[i >>> 5] as number) | (1 << (i & 31));
    }
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
    if (before !== null || gathered !== null)
      for (let w = 0; w < touched.length; w += 1)
        touched[w] =
          (touched[w] as number) |
          ((before === null ? 0 : (before[w] as number)) ^ (gathered === null ? 0 : (gathered[w] as number)));
    this.unjudged = gathered;
  }
}

function eachWord(bits: Bits, visit: (w: number, word: number) => void): void {
  for (let w = 0; w < bits.length; w += 1) if (bits[w] !== 0) visit(w, bits[w] as number);
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
