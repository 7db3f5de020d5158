import { heldTo, type Micro } from '../signal/points';
import type { SignalGroup } from '../signal/signal';

/** The points of a group's signals together, before and after its cap. */
export interface HeldGroup {
  readonly group: SignalGroup;
  readonly sum: Micro;
  readonly held: Micro;
}

/** Adds up what the signals of one axis give: alone, or together with the others of their group. */
export class PointsTally {
  private above: Micro = 0;
  private below: Micro = 0;
  private readonly grouped = new Map<string, Micro>();

  /** A tally that starts where this one is. */
  copy(): PointsTally {
    const copy = new PointsTally();
    copy.above = this.above;
    copy.below = this.below;
    for (const [group, micro] of this.grouped) copy.grouped.set(group, micro);
    return copy;
  }

  /** @param group the key of the signal's group; null: it stands alone */
  add(group: string | null, micro: Micro): void {
    if (micro === 0) return;
    if (group !== null) this.grouped.set(group, (this.grouped.get(group) ?? 0) + micro);
    else if (micro > 0) this.above += micro;
    else this.below += micro;
  }

  /** The groups to which something was added, in their order. */
  held(groups: readonly SignalGroup[]): readonly HeldGroup[] {
    return groups.flatMap((group) => {
      const sum = this.grouped.get(group.key);
      return sum === undefined ? [] : [{ group, sum, held: heldTo(group.cap, sum) }];
    });
  }

  /** The addends of the axis: signals without a group above and below zero, and each group after its cap. */
  parts(groups: readonly SignalGroup[]): readonly Micro[] {
    return [this.above, this.below, ...this.held(groups).map(({ held }) => held)];
  }

  sum(groups: readonly SignalGroup[]): Micro {
    return this.parts(groups).reduce((sum, part) => sum + part, 0);
  }
}
