import { kindOfField } from '../record/field';
import type { RecordKind } from '../record/kind';
import { type Condition, testsIn } from './condition';
import { readKeyOf } from './subject-table';

/**
 * The fields that conditions over records of a kind read across a tie: those of another kind.
 *
 * @example tiedFields([{ test: 'blank', subject: { kind: 'field', field: 'company.industry' } }], 'lead') // ['company.industry']
 */
export function tiedFields(conditions: readonly Condition[], kind: RecordKind): string[] {
  const found = new Set<string>();
  for (const condition of conditions)
    for (const { subject } of testsIn(condition)) {
      const key = readKeyOf(subject);
      if (isTied(key, kind)) found.add(key);
    }
  return [...found];
}

/** Whether a field belongs to a contact or company that records of a kind are tied to. */
export function isTied(key: string, kind: RecordKind): boolean {
  const of = kindOfField(key);
  return of !== 'lead' && of !== kind;
}
