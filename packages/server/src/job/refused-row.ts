import type { Refused } from '../problem/refused';
import type { ImportRowEntity } from '../store/entity/import.entity';

/** A row that was refused, with the reasons by field. */
export function refusedRow(row: ImportRowEntity, { problem }: Refused): ImportRowEntity {
  const notes = (problem.errors ?? []).map(({ path, message }) => ({
    field: path.replace(/^\/(values\/)?/, ''),
    message,
  }));
  return {
    ...row,
    state: 'refused',
    notes: notes.length > 0 ? notes : [{ field: '', message: problem.detail ?? problem.title }],
  };
}
