import {
  type AnyRecord,
  type Catalogue,
  fedValue,
  type Graded,
  gradeRecord,
  type Instant,
  keyOfRole,
  type Kept,
  scoresChangeAt,
  type Score,
  showValue,
  type TieKind,
  type UnroutedKind,
  UNROUTED_KINDS,
  type Value,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { dueAcross } from '../act/due-across';
import { writeSideScores } from '../act/write-scores';
import { ChangeEntity } from '../store/entity/history.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { scoredColumns } from '../store/entity/scored.entity';
import { clearFailures, eachAlone, notFailing } from '../store/failures';
import { sayingsOf } from '../store/feeds';
import { governedBy, type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { insertRows, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { rowOf } from '../store/value-row';
import { decideDueDeals } from './due-deals';

const BATCH = 100;
const DAY = 86_400_000;

/**
 * Looks at the contacts, companies and deals that are due: what leads say goes into the fields that it feeds, all are scored again, and
 * deals go through the gates.
 * They are due where something happened to them or to a lead of theirs, where another charter came into force, and where time
 * moves their scores.
 *
 * Nobody waits for contacts and companies: nothing is locked while they are computed, and what changed meanwhile stays due.
 *
 * @returns how many were due
 */
export async function tendUnrouted(source: DataSource, now: Date): Promise<number> {
  let done = 0;
  for (const kind of UNROUTED_KINDS) done += await tendKind(source, kind, now);
  return done;
}

async function tendKind(source: DataSource, kind: UnroutedKind, now: Date): Promise<number> {
  const work = `${kind}-scores`;
  let done = 0;
  for (;;) {
    const ids = (
      await source.query<{ id: number }[]>(
        `SELECT id FROM ${kind} WHERE due <= ? AND ${notFailing(`${kind}.id`)} ORDER BY due, id LIMIT ?`,
        [now, work, now, BATCH],
      )
    ).map(({ id }) => id);
    if (ids.length === 0) return done;
    let kept = 0;
    const failed = await eachAlone(source, work, ids, now, async (some) => {
      kept += await inTransaction(source, (manager) =>
        kind === 'deal' ? decideDueDeals(manager, some, now) : tendBatch(manager, kind, some, now),
      );
    });
    if (kept > 0)
      await clearFailures(
        source,
        work,
        ids.filter((id) => !failed.includes(id)),
      );
    done += ids.length - failed.length;
    // All of them changed meanwhile: they wait for the next time, not in a circle.
    if (kept === 0 && failed.length < ids.length) return done;
  }
}

/** @returns how many were looked at and did not change meanwhile */
async function tendBatch(manager: EntityManager, kind: TieKind, ids: readonly number[], now: Date): Promise<number> {
  const inForce = await readGoverning(manager, 'share');
  const due = await loadUnrouted(manager, kind, ids, inForce.ready);
  const fed = await fedOf(manager, kind, due, inForce);
  const written: Written[] = [];
  for (const one of due) {
    const { touched, charter } = one.entity;
    const by = touched || charter === null ? inForce : await governedBy(manager, charter, inForce);
    const changes = fed.get(one.entity.id) ?? NOTHING;
    const result = await tendOne(manager, one, changes, by, inForce, now);
    if (result !== null) written.push(result);
  }
  await writeFed(manager, written, now);
  if (kind === 'contact') await suggestNamesakes(manager, due, now);
  await writeSideScores(
    manager,
    written.flatMap(({ id, score }) => (score === null ? [] : [{ id, score }])),
  );
  await makeTiedDue(manager, kind, written, inForce, now);
  return written.length;
}

/** Suggests contacts of one company that have one name, once each is looked at for the first time. */
async function suggestNamesakes(manager: EntityManager, due: readonly StoredUnrouted[], now: Date): Promise<void> {
  const fresh = due.flatMap(({ entity }) => (entity.scoredAt === null ? [entity.id] : []));
  if (fresh.length > 0)
    await manager.query(
      `INSERT IGNORE INTO suggestion (kind, older, younger, at, settled)
       SELECT 'contact', MIN(other.id), c.id, ?, 0 FROM contact c
       JOIN contact other ON other.company = c.company AND other.id < c.id AND other.name = c.name
       WHERE c.id IN (?) AND c.name <> '' GROUP BY c.id`,
      [now, fresh],
    );
}

/** Changes on a contact or company that its leads feed. */
interface Changes {
  readonly changed: ReadonlyMap<string, Kept>;
  readonly beside: ReadonlyMap<string, Value>;
}

const NOTHING: Changes = { changed: new Map(), beside: new Map() };

async function fedOf(
  manager: EntityManager,
  kind: TieKind,
  due: readonly StoredUnrouted[],
  { world }: Governing,
): Promise<ReadonlyMap<number, Changes>> {
  const touched = due.filter(({ entity }) => entity.touched);
  if (touched.length === 0) return new Map();
  const sayings = await sayingsOf(
    manager,
    world.fields,
    kind,
    touched.map(({ entity }) => entity.id),
  );
  return new Map(
    touched.map(({ entity, record, origins, setAt }): [number, Changes] => {
      const changed = new Map<string, Kept>();
      const beside = new Map<string, Value>();
      const since: Instant = entity.scoredAt?.getTime() ?? -1;
      for (const [field, said] of sayings.get(entity.id) ?? []) {
        const value = record.values.get(field);
        const own = value && { value, origin: origins.get(field) ?? 'trusted', at: setAt.get(field) ?? 0 };
        const fed = fedValue(own, said, since);
        if (fed.changed !== null) changed.set(field, fed.changed);
        if (fed.beside !== null) beside.set(field, fed.beside);
      }
      return [entity.id, { changed, beside }];
    }),
  );
}

/** A record as it was written: what of it changed, and its score. */
interface Written {
  readonly id: number;
  readonly before: AnyRecord;
  readonly changes: Changes;
  /** Null: it could not be scored. */
  readonly score: Score | null;
}

/** @returns null: it changed meanwhile, and stays due */
async function tendOne(
  manager: EntityManager,
  { kind, entity, record }: StoredUnrouted,
  changes: Changes,
  by: Governing | null,
  { world }: Governing,
  now: Date,
): Promise<Written | null> {
  const values = new Map([
    ...record.values,
    ...[...changes.changed].map(([field, { value }]) => [field, value] as const),
  ]);
  const after: AnyRecord = { ...record, values };
  const nameKey = keyOfRole(world.fields, kind, 'name');
  const name = nameKey === null ? undefined : values.get(nameKey);
  const graded = by === null ? null : gradeRecord(by.ready, after, by.world, now.getTime());
  const { affected } = await manager.update(
    UNROUTED_ENTITIES[kind],
    { id: entity.id, changes: entity.changes },
    {
      ...(changes.changed.size > 0 ? { version: entity.version + 1 } : {}),
      // From now on it is found by its keys: what it was made of may be another's.
      ...(kind === 'company' ? { country: countryIn(values, world.fields), identity: `#${entity.id}` } : {}),
      ...(name === undefined || name.kind === 'blank' ? {} : { name: showValue(name).slice(0, 200) }),
      ...(by === null || graded === null
        ? // A charter that names what is gone moves nothing, and is tried again.
          { due: new Date(now.getTime() + DAY) }
        : scoresOf(graded, by, after, now)),
    },
  );
  return affected === 0 ? null : { id: entity.id, before: record, changes, score: graded?.score ?? null };
}

/** The country by which a company is told apart. */
function countryIn(values: ReadonlyMap<string, Value>, fields: Catalogue): string | null {
  const key = keyOfRole(fields, 'company', 'country');
  const value = key === null ? undefined : values.get(key);
  return value?.kind === 'text' && value.text.length === 2 ? value.text.toUpperCase() : null;
}

function scoresOf(graded: Graded, { ready, world, number }: Governing, record: AnyRecord, now: Date) {
  const isScored = ready.rules[record.kind].scoreSets.length > 0;
  return {
    due: isScored ? new Date(scoresChangeAt(ready, record, world, now.getTime())) : null,
    ...scoredColumns(graded),
    touched: false,
    charter: number,
    scoredAt: now,
  };
}

/** Writes what leads say, with its line in the history, and what untrusted ways in say otherwise. */
async function writeFed(manager: EntityManager, written: readonly Written[], now: Date): Promise<void> {
  const fed = written.flatMap(({ id, before, changes }) =>
    [...changes.changed].flatMap(([field, { value, origin }]) =>
      value.kind === 'blank' ? [] : [{ id, field, value, origin, from: before.values.get(field) ?? null }],
    ),
  );
  await replaceRows(
    manager,
    FieldValueEntity,
    fed.map(({ id, field, value, origin }) => rowOf(id, field, value, origin, now)),
  );
  await insertRows(
    manager,
    ChangeEntity,
    fed.map(({ id, field, value, from }) => ({
      record: id,
      field,
      from,
      to: value,
      reason: null,
      at: now,
      cause: 'relvik' as const,
      person: null,
      by: '',
      charter: null,
      rule: null,
    })),
  );
  await replaceRows(
    manager,
    SaidValueEntity,
    written.flatMap(({ id, changes }) =>
      [...changes.beside].map(([field, value]) => ({
        record: id,
        field,
        value,
        way: 'form' as const,
        by: 'a lead',
        at: now,
      })),
    ),
  );
}

/** The open leads and deals whose conditions read what changed: they are decided, or scored, again. */
async function makeTiedDue(
  manager: EntityManager,
  kind: TieKind,
  written: readonly Written[],
  { ready }: Governing,
  now: Date,
): Promise<void> {
  const changedIn = (tied: readonly string[]): number[] =>
    written.flatMap(({ id, changes }) => (tied.some((key) => changes.changed.has(key)) ? [id] : []));
  await dueAcross(
    manager,
    kind,
    { leads: changedIn(ready.rules.lead.tied), deals: changedIn(ready.rules.deal.tied) },
    now,
  );
}
