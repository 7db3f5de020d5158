import type { Condition } from '../condition/condition';
import type { RecordKind } from '../record/kind';
import type { Charter } from './charter';
import type { CharterPart, PlacedCondition } from './part/part';
import { eachPart } from './parts';

/** All conditions of a charter over records of a kind. */
export function conditionsIn(charter: Charter, kind: RecordKind): Condition[] {
  const found: PlacedCondition[] = [];
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    found.push(...(part.conditions?.(charter[key], charter) ?? []));
  });
  return found.filter(({ of }) => of === kind).map(({ condition }) => condition);
}
