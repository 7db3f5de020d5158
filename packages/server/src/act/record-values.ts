import type { Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { replaceRows } from '../store/rows';
import { rowOf } from '../store/value-row';
import type { ChangeSource } from './change-source';
import { rememberTags } from './write';

/** Values that were set on this very record; blank ones are taken away. */
export async function writeRecordValues(
  manager: EntityManager,
  record: number,
  changed: ReadonlyMap<string, Value>,
  { at, origin }: Pick<ChangeSource, 'at' | 'origin'>,
): Promise<void> {
  await rememberTags(manager, [{ values: changed }]);
  const filled = [...changed].flatMap(([field, value]) =>
    value.kind === 'blank' ? [] : [rowOf(record, field, value, origin, at)],
  );
  await replaceRows(manager, FieldValueEntity, filled);
  const blanked = [...changed].flatMap(([field, value]) => (value.kind === 'blank' ? [{ record, field }] : []));
  if (blanked.length > 0) await manager.delete(FieldValueEntity, blanked);
}
