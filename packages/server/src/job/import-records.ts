import { BLANK, sameValue, type UnroutedKind, type Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { acceptRecord } from '../act/accept-record';
import type { IncomingRecord } from '../act/incoming-record';
import { handOf } from '../act/cause';
import { writeChanged } from '../act/change-record';
import type { ChangeSource } from '../act/change-source';
import { removeRecords } from '../act/remove-records';
import { Refused } from '../problem/refused';
import { whatWasWorkedOn } from '../intake/undo-import';
import type { ImportFileEntity, ImportRowEntity } from '../store/entity/import.entity';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { refusedRow } from './refused-row';

/** Takes rows of contacts, companies or deals in, one after the other: a later row finds what an earlier one made. */
export async function takeRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  file: ImportFileEntity,
  rows: readonly ImportRowEntity[],
  now: Date,
): Promise<ImportRowEntity[]> {
  const governing = await readGoverning(manager, 'share');
  const done: ImportRowEntity[] = [];
  for (const row of rows) {
    try {
      const { id, known, warnings, replaced } = await acceptRecord(
        manager,
        kind,
        incomingOf(row, file, now),
        governing,
      );
      done.push({
        ...row,
        state: known ? 'joined' : 'accepted',
        record: id,
        takenAt: now,
        notes: warnings.map(({ field, raw, why }) => ({ field, message: `“${raw}” ${why}` })),
        replaced: known ? replaced : null,
      });
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      done.push(refusedRow(row, error));
    }
  }
  return done;
}

function incomingOf({ values, ties, owner }: ImportRowEntity, { by }: ImportFileEntity, at: Date): IncomingRecord {
  return {
    cause: { kind: 'csv', name: by },
    at,
    values,
    company: ties?.company ?? '',
    contact: ties?.contact ?? '',
    stage: ties?.stage ?? null,
    owner,
    trusted: true,
    allowed: null,
  };
}

/** Takes rows back: records that came are removed, values that a known one got go back to what they were. */
export async function undoRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  file: ImportFileEntity,
  rows: readonly ImportRowEntity[],
  now: Date,
): Promise<ImportRowEntity[]> {
  const governing = await readGoverning(manager, 'share');
  const ids = rows.flatMap(({ record }) => record ?? []);
  const stored = new Map(
    (await loadUnrouted(manager, kind, ids, governing.ready, 'write')).map((one) => [one.entity.id, one]),
  );
  const worked = ids.length === 0 ? [] : await whatWasWorkedOn(manager, file, ids);
  const by: ChangeSource = { cause: handOf({ key: file.person, name: file.by }), at: now, origin: 'trusted' };
  const undone = rows.filter(({ record }) => record !== null && stored.has(record) && !worked.includes(record));
  for (const { state, record, replaced } of undone) {
    const one = stored.get(record ?? 0);
    if (state === 'joined' && one !== undefined && replaced !== null)
      await giveBack(manager, one, replaced, governing, by);
  }
  await removeRecords(
    manager,
    kind,
    undone.flatMap(({ state, record }) => (state === 'accepted' ? (stored.get(record ?? 0) ?? []) : [])),
    by,
    `import of ${file.name} undone`.slice(0, 500),
  );
  return rows.map((row) => ({ ...row, state: undone.includes(row) ? 'undone' : 'kept' }));
}

/** Gives a known record its values back, where it still has what the row brought. */
async function giveBack(
  manager: EntityManager,
  stored: StoredUnrouted,
  replaced: NonNullable<ImportRowEntity['replaced']>,
  governing: Governing,
  by: ChangeSource,
): Promise<void> {
  const changed = new Map<string, Value>(
    replaced
      .filter(({ field, after }) => sameValue(stored.record.values.get(field), after))
      .map(({ field, before }) => [field, before ?? BLANK]),
  );
  if (changed.size > 0) await writeChanged(manager, stored, changed, governing, by);
}
