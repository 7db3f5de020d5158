import { heldTo } from '../score/activity-points';
import { type Micro, toMicro } from '../score/points';
import type { ReadySignal } from '../score/score-record';
import type { ActivitySignal, Axis, SignalGroup, SilenceSignal } from '../score/score-set';
import { allBits, type Bits, countBoth, eachBit, noBits } from './bits';
import { addActivities, addSilence } from './happened';
import type { Mask } from './mask';
import type { Resident } from './resident';

/** What one signal adds: the same points wherever a mask is set, or amounts that follow from what happened. */
type Part =
  | {
      readonly kind: 'mask';
      readonly id: string;
      readonly group: string | null;
      readonly points: Micro;
      readonly mask: Mask;
    }
  | {
      readonly kind: 'happened';
      readonly id: string;
      readonly group: string | null;
      readonly signal: ActivitySignal | SilenceSignal;
    };

function partOf(signal: ReadySignal, resident: Resident): Part {
  const { group } = signal;
  if (signal.kind === 'attribute')
    return { kind: 'mask', id: '', group, points: toMicro(signal.points), mask: resident.answerTo(signal.ready) };
  return { kind: 'happened', id: JSON.stringify({ ...signal, name: '', group: null }), group, signal };
}

function isSame(a: Part, b: Part): boolean {
  if (a.group !== b.group) return false;
  if (a.kind === 'mask') return b.kind === 'mask' && a.mask === b.mask && a.points === b.points;
  return b.kind === 'happened' && a.id === b.id;
}

/** How many records a signal gives points to, and how many in all, in millionths. */
export interface Share {
  readonly records: number;
  readonly micro: Micro;
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
  private readonly shares = new Map<string, { readonly among: Bits; readonly share: Share }>();
  private caps: readonly SignalGroup[] = [];
  private unjudgedMasks: ReadonlySet<Bits> = new Set();
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
      const after = partOf(signal, this.resident);
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

  /** How much a signal gives to some records. */
  shareOf(signal: string, among: Bits): Share {
    const part = this.parts.get(signal);
    if (part === undefined) return { records: 0, micro: 0 };
    if (part.kind === 'mask') {
      const records = countBoth(part.mask.yes, among);
      return { records, micro: records * part.points };
    }
    const known = this.shares.get(part.id);
    if (known?.among === among) return known.share;
    const { size } = this.resident.population;
    const alone = new Float64Array(size);
    this.happen(part.signal, 1, alone, noBits(size));
    let records = 0;
    let micro = 0;
    eachBit(among, (i) => {
      const amount = alone[i] as number;
      if (amount === 0) return;
      records += 1;
      micro += amount;
    });
    const share = { records, micro };
    this.shares.set(part.id, { among, share });
    return share;
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
    this.happen(part.signal, sign, sums, touched);
  }

  private happen(signal: ActivitySignal | SilenceSignal, sign: 1 | -1, sums: Float64Array, touched: Bits): void {
    if (signal.kind === 'activity') addActivities(signal, this.resident, sign, sums, touched);
    else addSilence(signal, this.resident, sign, sums, touched);
  }

  /** Gathers what can't be judged; where that changed, the record is touched. */
  private takeUnjudged(touched: Bits): void {
    const masks = new Set<Bits>();
    for (const part of this.parts.values())
      if (part.kind === 'mask' && part.mask.unjudged !== null) masks.add(part.mask.unjudged);
    // Most edits ask the same columns otherwise: what can't be read of them stays what it was.
    if (masks.size === this.unjudgedMasks.size && [...masks].every((mask) => this.unjudgedMasks.has(mask))) {
      this.reopened = null;
      return;
    }
    this.unjudgedMasks = masks;
    let gathered: Bits | null = null;
    for (const unjudged of masks) {
      gathered ??= noBits(this.resident.population.size);
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
