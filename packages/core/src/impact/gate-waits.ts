import { type Bits, countBits } from '../column/bits';
import { type Gate, leastTest } from '../gate/gate';
import type { Sweep, Swept } from '../sweep/sweep';

/** Open records of a gate's stage for which its condition holds, and that wait for something else. */
export interface GateWaits {
  /** For a field to be filled. */
  readonly field: number;
  /** For time in the stage: all else holds. */
  readonly time: number;
  /** For a person: all holds, and the gate asks or leaves it to one. */
  readonly person: number;
}

/**
 * Counts the records that wait at each gate of a charter; only gates that ask for more than their condition, or ask a person.
 *
 * @param sweep over the records as they are stored, with gates that are not run
 */
export function gateWaits(sweep: Sweep, { rules, stages }: Swept, open: Bits): Readonly<Record<string, GateWaits>> {
  const waits: Record<string, GateWaits> = {};
  for (const gate of rules.gates) {
    const { key, from, ready, parts } = gate;
    if (!mayHoldBack(gate)) continue;
    const here = stages[rules.stages.findIndex((stage) => stage.key === from)];
    if (here === undefined) continue;
    const holds = both(both(here, open), sweep.answerTo(parts.when).yes);
    const filled = both(holds, sweep.answerTo({ kind: 'all', of: [...parts.filled] }).yes);
    const passes = both(filled, sweep.answerTo(ready).yes);
    waits[key] = {
      field: countBits(holds) - countBits(filled),
      time: countBits(filled) - countBits(passes),
      person: gate.decider.kind === 'rule' ? 0 : countBits(passes),
    };
  }
  return waits;
}

/** Whether records may wait at a gate although its condition holds. */
export function mayHoldBack({ on, requiredFields, decider, ...time }: Omit<Gate, 'effects'>): boolean {
  return on && (requiredFields.length > 0 || leastTest(time) !== null || decider.kind !== 'rule');
}

function both(a: Bits, b: Bits): Bits {
  const bits = a.slice();
  for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) & (b[w] as number);
  return bits;
}
