import type { Condition } from '../condition/condition';
import type { Charter } from './charter';
import type { CharterPart, PlacedCondition } from './part/part';
import { eachPart } from './parts';

/** All conditions of a charter over leads. */
export function conditionsIn(charter: Charter): Condition[] {
  const found: PlacedCondition[] = [];
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    found.push(...(part.conditions?.(charter[key]) ?? []));
  });
  return found.filter(({ of }) => of === 'lead').map(({ condition }) => condition);
}
