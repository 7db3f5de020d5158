import type { Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { replaceRows } from '../store/rows';
import { rowOf } from '../store/value-row';
import type { ChangeSource } from './change-source';
import { rememberTags } from './write';

/** Values that are set on a record itself. */
interface SetValues {
  readonly record: number;
  readonly values: ReadonlyMap<string, Value>;
  readonly by: Pick<ChangeSource, 'at' | 'origin'>;
}

/** Values that were set on this very record; blank ones are taken away. */
export function writeRecordValues(
  manager: EntityManager,
  record: number,
  values: ReadonlyMap<string, Value>,
  by: SetValues['by'],
): Promise<void> {
  return writeValuesOf(manager, [{ record, values, by }]);
}

/** The same of several records. */
export async function writeValuesOf(manager: EntityManager, all: readonly SetValues[]): Promise<void> {
  await rememberTags(manager, all);
  const set = all.flatMap(({ record, values, by }) =>
    [...values].map(([field, value]) => ({ record, field, value, by })),
  );
  const filled = set.flatMap(({ record, field, value, by }) =>
    value.kind === 'blank' ? [] : [rowOf(record, field, value, by.origin, by.at)],
  );
  await replaceRows(manager, FieldValueEntity, filled);
  const blanked = set.flatMap(({ record, field, value }) => (value.kind === 'blank' ? [{ record, field }] : []));
  if (blanked.length > 0) await manager.delete(FieldValueEntity, blanked);
}
