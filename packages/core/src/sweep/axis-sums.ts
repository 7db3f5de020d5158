import { allBits, type Bits, countBoth, eachBit, noBits } from '../column/bits';
import type { Mask } from '../column/mask';
import { addWhere, exchangeWhere } from '../signal/attribute-column';
import { addHappened } from '../signal/columns';
import { heldTo, type Micro, toMicro } from '../signal/points';
import type { ActivitySignal, Axis, ReadySignal, SignalGroup, SilenceSignal } from '../signal/signal';
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
    addHappened(part.signal, this.resident, 1, alone, noBits(size));
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
      if (before.mask === after.mask) addWhere(sums, after.mask.yes, after.points - before.points, touched);
      else if (before.points === after.points)
        exchangeWhere(sums, before.mask.yes, after.mask.yes, after.points, touched);
      else {
        addWhere(sums, before.mask.yes, -before.points, touched);
        addWhere(sums, after.mask.yes, after.points, touched);
      }
      return;
    }
    if (before !== undefined) this.apply(before, -1, touched);
    if (after !== undefined) this.apply(after, 1, touched);
  }

  private apply(part: Part, sign: 1 | -1, touched: Bits): void {
    const sums = this.sumsFor(part.group);
    if (part.kind === 'mask') {
      addWhere(sums, part.mask.yes, sign * part.points, touched);
      return;
    }
    addHappened(part.signal, this.resident, sign, sums, touched);
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
