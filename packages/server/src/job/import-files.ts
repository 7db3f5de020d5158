import { BLANK, type RepKey, sameValue, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { acceptLeads, type Inquiry, INQUIRY_ACTIVITY, type Taken } from '../act/accept-leads';
import { edited } from '../act/act';
import { act } from '../act/acting';
import { type Cause, handOf } from '../act/cause';
import { toSend } from '../act/effects';
import { type Acting, perform } from '../act/perform';
import { removeLeads } from '../act/remove-leads';
import { Refused } from '../problem/refused';
import { whatWasWorkedOn } from '../intake/undo-import';
import { ImportFileEntity, ImportRowEntity } from '../store/entity/import.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { errorText } from '../store/retry';
import { insertRows, replaceRows } from '../store/rows';
import { inTransaction, isDatabaseAway } from '../store/transaction';
import { takeRecords, undoRecords } from './import-records';
import { refusedRow } from './refused-row';

/** Small batch: bounds how long a lead that comes in meanwhile waits for locks. */
const BATCH = 25;
/** A breath between batches, ms, so that small requests get at the database first. */
const BREATH = 2;

/** The oldest import with something left to do. */
function nextFile(source: DataSource, state: 'running' | 'undoing'): Promise<ImportFileEntity | null> {
  return source.manager.findOne(ImportFileEntity, { where: { state }, order: { id: 'ASC' } });
}

/** The next rows of a file, locked; what another server holds is passed over. */
function claim(
  manager: EntityManager,
  file: number,
  states: readonly ImportRowEntity['state'][],
  most: number,
): Promise<ImportRowEntity[]> {
  return manager
    .createQueryBuilder(ImportRowEntity, 'one')
    .where('one.file = :file AND one.state IN (:...states)', { file, states })
    .orderBy('one.row')
    .limit(most)
    .setLock('pessimistic_write')
    .setOnLocked('skip_locked')
    .getMany();
}

function resultOf(row: ImportRowEntity, { accepted, act: { values, valuesBefore, asOf } }: Taken): ImportRowEntity {
  return {
    ...row,
    state: accepted.joined ? 'joined' : 'accepted',
    record: accepted.id,
    takenAt: asOf,
    notes: accepted.warnings.map(({ field, raw, why }) => ({ field, message: `“${raw}” ${why}` })),
    replaced: accepted.joined
      ? [...values].map(([field, after]) => ({ field, before: valuesBefore.get(field) ?? null, after }))
      : null,
  };
}

/** Takes the next rows in, in the transaction that says so: each row once, whatever is killed. */
async function takeRows(source: DataSource, file: ImportFileEntity, most: number, now: Date): Promise<number> {
  const { kind } = file;
  if (kind !== 'lead')
    return inTransaction(source, async (manager) => {
      const rows = await claim(manager, file.id, ['waiting'], most);
      await replaceRows(manager, ImportRowEntity, await takeRecords(manager, kind, file, rows, now));
      return rows.length;
    });
  return act(source, now, async (acting) => {
    const rows = await claim(acting.manager, file.id, ['waiting'], most);
    const taken = await acceptLeads(
      acting,
      rows.map(({ values, ties, owner }): Inquiry => ({
        cause: { kind: 'csv', name: file.by },
        trusted: true,
        at: now,
        values,
        handling: file.handling,
        pipeline: ties?.pipeline ?? null,
        owner: owner as RepKey | null,
      })),
    );
    await replaceRows(
      acting.manager,
      ImportRowEntity,
      rows.flatMap((row, i) => {
        const one = taken[i];
        return one === undefined ? [] : [one instanceof Refused ? refusedRow(row, one) : resultOf(row, one)];
      }),
    );
    return rows.length;
  });
}

/** The next row can't be taken in: it is refused with what went wrong. */
async function refuseRow(source: DataSource, file: ImportFileEntity, error: unknown): Promise<void> {
  await inTransaction(source, async (manager) => {
    const [row] = await claim(manager, file.id, ['waiting'], 1);
    if (row === undefined) return;
    const notes = [{ field: '', message: `could not be taken in: ${errorText(error)}` }];
    await manager.update(ImportRowEntity, { file: row.file, row: row.row }, { state: 'refused', notes });
  });
}

/** Ends an import or its undoing once no row is left, and tells who began it. */
async function end(source: DataSource, file: ImportFileEntity, now: Date): Promise<boolean> {
  const from = file.state as 'running' | 'undoing';
  const left = from === 'running' ? "state = 'waiting'" : "state IN ('accepted', 'joined')";
  return inTransaction(source, async (manager) => {
    const [row] = await manager.query<{ n: string }[]>(
      `SELECT COUNT(*) AS n FROM import_row WHERE file = ? AND ${left}`,
      [file.id],
    );
    if (Number(row?.n ?? 0) > 0) return false;
    const { affected } = await manager.update(
      ImportFileEntity,
      { id: file.id, state: from },
      from === 'running'
        ? { state: 'done', endedAt: now }
        : // The same file may come again.
          { state: 'undone', kept: null, endedAt: now },
    );
    if (affected === 1 && from === 'running')
      await insertRows(manager, OutboxEntity, [
        toSend({ person: file.person, queue: null, notice: 'imported', job: file.id }, null, now),
      ]);
    return true;
  });
}

const pause = (ms: number): Promise<void> => new Promise((resume) => setTimeout(resume, ms));

/** Carries imports on, and their undoing; where the process stops, the next start goes on with the next row. */
export async function importFiles(source: DataSource, now: () => Date): Promise<void> {
  for (let file = await nextFile(source, 'running'); file !== null; file = await nextFile(source, 'running'))
    if (!(await eachBatch(source, file, now, takeRows, refuseRow))) break;
  for (let file = await nextFile(source, 'undoing'); file !== null; file = await nextFile(source, 'undoing'))
    if (!(await eachBatch(source, file, now, undoRows, keepRow))) break;
}

/**
 * Works through a file batch by batch; a batch that fails is done row by row.
 *
 * @returns false: other servers hold what is left
 */
async function eachBatch(
  source: DataSource,
  file: ImportFileEntity,
  now: () => Date,
  batch: (source: DataSource, file: ImportFileEntity, most: number, now: Date) => Promise<number>,
  giveUp: (source: DataSource, file: ImportFileEntity, error: unknown) => Promise<void>,
): Promise<boolean> {
  for (let alone = 0; ; alone = Math.max(0, alone - 1)) {
    try {
      if ((await batch(source, file, alone > 0 ? 1 : BATCH, now())) === 0) return await end(source, file, now());
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      if (alone > 0) await giveUp(source, file, error);
      else alone = BATCH + 1;
    }
    await pause(BREATH);
  }
}

/** Takes rows back: records that came are removed, values that a known one got go back to what they were. */
async function undoRows(source: DataSource, file: ImportFileEntity, most: number, now: Date): Promise<number> {
  const { kind } = file;
  if (kind !== 'lead')
    return inTransaction(source, async (manager) => {
      const rows = await claim(manager, file.id, ['accepted', 'joined'], most);
      await replaceRows(manager, ImportRowEntity, await undoRecords(manager, kind, file, rows, now));
      return rows.length;
    });
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const rows = await claim(manager, file.id, ['accepted', 'joined'], most);
    const ids = rows.flatMap(({ record }) => record ?? []);
    const leads = new Map((await loadLeads(manager, ids, 'write')).map((lead) => [lead.entity.id, lead]));
    const worked = ids.length === 0 ? [] : await whatWasWorkedOn(manager, file, ids);
    const undone = rows.filter(({ record }) => record !== null && leads.has(record) && !worked.includes(record));
    const cause = handOf({ key: file.person, name: file.by });
    await removeLeads(
      acting,
      undone.flatMap(({ state, record }) => (state === 'accepted' ? (leads.get(record ?? 0) ?? []) : [])),
      cause,
      now,
      `import of ${file.name} undone`.slice(0, 500),
    );
    await giveBack(acting, file, undone, leads, cause, now);
    await replaceRows(
      manager,
      ImportRowEntity,
      rows.map((row) => ({ ...row, state: undone.includes(row) ? 'undone' : 'kept' })),
    );
    return rows.length;
  });
}

/** Known leads that a row was added to get their values back, where they still have what the row brought. */
async function giveBack(
  acting: Acting,
  { handling }: ImportFileEntity,
  rows: readonly ImportRowEntity[],
  leads: ReadonlyMap<number, StoredLead>,
  cause: Cause,
  now: Date,
): Promise<void> {
  const joined = rows.filter(({ state }) => state === 'joined');
  for (const { record, replaced, takenAt } of joined) {
    const stored = leads.get(record ?? 0);
    if (stored === undefined || replaced === null || takenAt === null) continue;
    await acting.manager.delete(ActivityEntity, { record: stored.entity.id, kind: INQUIRY_ACTIVITY, at: takenAt });
    const changed = new Map<string, Value>(
      replaced
        .filter(({ field, after }) => sameValue(stored.record.values.get(field), after))
        .map(({ field, before }) => [field, before ?? BLANK]),
    );
    await perform(acting, [edited(stored, changed, 'edited', cause, now, handling)]);
  }
}

/** A row that can't be taken back stays as it is. */
async function keepRow(source: DataSource, file: ImportFileEntity): Promise<void> {
  await inTransaction(source, async (manager) => {
    const [row] = await claim(manager, file.id, ['accepted', 'joined'], 1);
    if (row !== undefined) await manager.update(ImportRowEntity, { file: row.file, row: row.row }, { state: 'kept' });
  });
}
