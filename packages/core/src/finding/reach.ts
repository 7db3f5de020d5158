import type { ReadyCondition, ReadyTest } from '../condition/ready';
import { holdsIn, type Region } from './region';

/** Something that a condition asks about, and the regions of what it can be. */
export interface Variable {
  readonly key: string;
  readonly regions: readonly Region[];
}

/** A partial assignment: a region for some variables. */
export type Assignment = ReadonlyMap<string, Region>;

/** The answer of a condition under a partial assignment; `open`: it depends on the rest. */
export type PartAnswer = 'yes' | 'no' | 'open';

/** Names the variable of a test. */
export type KeyOf = (test: ReadyTest) => string;

/** The answer of a condition for all records that agree with an assignment. */
export function partly(condition: ReadyCondition, settled: Assignment, keyOf: KeyOf): PartAnswer {
  switch (condition.kind) {
    case 'all':
      return joined(condition.of, 'no', settled, keyOf);
    case 'any':
      return joined(condition.of, 'yes', settled, keyOf);
    case 'not': {
      const inner = partly(condition.of, settled, keyOf);
      return inner === 'open' ? 'open' : inner === 'yes' ? 'no' : 'yes';
    }
    default: {
      const region = settled.get(keyOf(condition));
      if (region === undefined) return 'open';
      return holdsIn(condition, region) ? 'yes' : 'no';
    }
  }
}

/** One part that says `settles` settles a group. */
function joined(
  parts: readonly ReadyCondition[],
  settles: 'yes' | 'no',
  settled: Assignment,
  keyOf: KeyOf,
): PartAnswer {
  let open = false;
  for (const part of parts) {
    const said = partly(part, settled, keyOf);
    if (said === settles) return settles;
    if (said === 'open') open = true;
  }
  if (open) return 'open';
  return settles === 'yes' ? 'no' : 'yes';
}

/** Limit on the assignments tried; beyond it nothing is reported. */
const MOST_LOOKS = 20_000;

export type Search = { readonly found: Assignment } | 'none' | 'too much';

/**
 * Looks for an assignment with which a claim holds, variable by variable.
 *
 * @param claim `yes` ends the search, `no` cuts off all that agrees with the assignment
 */
export function search(variables: readonly Variable[], claim: (settled: Assignment) => PartAnswer): Search {
  let looks = 0;
  const settled = new Map<string, Region>();

  function from(v: number): Search {
    looks += 1;
    if (looks > MOST_LOOKS) return 'too much';
    const said = claim(settled);
    if (said === 'yes') return { found: new Map(settled) };
    const variable = variables[v];
    if (said === 'no' || variable === undefined) return 'none';
    for (const region of variable.regions) {
      settled.set(variable.key, region);
      const found = from(v + 1);
      if (found !== 'none') return found;
    }
    settled.delete(variable.key);
    return 'none';
  }

  return from(0);
}
