import { AXES } from '../signal/signal';
import { type Bits, hasBit, noBits, setBit } from '../column/bits';
import type { SweptSet } from '../sweep/score-sweep';
import type { Swept } from '../sweep/sweep';

/** The records of which some score changes, by whichever set admits them. */
export function rescored(before: Swept, after: Swept, chosen: Bits): Bits {
  const bits = noBits(chosen.length * 32);
  const was = new Map(before.sets.map((one) => [one.set.key, one]));
  const both = after.sets.map((is) => [was.get(is.set.key), is] as const);
  const gone = before.sets.filter(({ set }) => !after.sets.some((one) => one.set.key === set.key));
  for (const [old, now] of [...both, ...gone.map((one) => [one, undefined] as const)]) markRescored(old, now, bits);
  for (let w = 0; w < bits.length; w += 1) bits[w] = (bits[w] as number) & (chosen[w] as number);
  return bits;
}

function markRescored(old: SweptSet | undefined, now: SweptSet | undefined, into: Bits): void {
  for (let w = 0; w < into.length; w += 1)
    into[w] = (into[w] as number) | ((old?.admitted[w] ?? 0) ^ (now?.admitted[w] ?? 0));
  if (old === undefined || now === undefined) return;
  const { admitted } = now;
  for (const axis of AXES) {
    const [was, is] = [old.unscored[axis], now.unscored[axis]];
    if (was !== null || is !== null)
      for (let w = 0; w < into.length; w += 1)
        into[w] = (into[w] as number) | (((was?.[w] ?? 0) ^ (is?.[w] ?? 0)) & (admitted[w] as number));
    const [before, after] = [old.scores[axis], now.scores[axis]];
    for (let i = 0; i < before.length; i += 1) {
      if (before[i] === after[i] || !hasBit(admitted, i)) continue;
      // A sum that can't be judged is no score.
      if (is === null || !hasBit(is, i)) setBit(into, i);
    }
  }
}
