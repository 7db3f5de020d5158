import type { StreamRun } from '@relvik/contracts';
import { duringRun, type Stream } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { StreamRunEntity } from '../store/entity/stream-run.entity';
import { CharterUnusable, charterInForce, readGoverning } from '../store/governing';
import { loadLeads, placeOf } from '../store/load-leads';
import { isDatabaseAway, isDuplicate } from '../store/transaction';
import { again } from './act';
import { act } from './acting';
import { type Cause, handOf, RELVIK } from './cause';
import type { Hand } from './hand';
import { samePlace } from './lead-after';
import { perform } from './perform';

/** Small batch: bounds how long a lead that comes in meanwhile waits for locks. */
const BATCH = 50;
/** Leads that are looked up at a time: each look-up reads all leads in the stages of the stream. */
const AHEAD = 2000;

export function runRow(row: StreamRunEntity): StreamRun {
  const { id, stream, by, state, startedAt, endedAt, leads, done, given, failed } = row;
  const at = { startedAt: startedAt.getTime(), endedAt: endedAt?.getTime() ?? null };
  return { id, stream, by, state, ...at, leads, done, given, failed };
}

/** A stream of the charter in force. @throws Refused `not-found` where there is none, it is off, or it has no schedule */
export async function scheduledStream(manager: EntityManager, key: string): Promise<Stream> {
  const { body } = await charterInForce(manager, 'none');
  const stream = body.streams.find((one) => one.on && one.key === key && one.schedule !== undefined);
  if (stream === undefined) throw Refused.notFound();
  return stream;
}

/** Of the ids of leads `(from, upto]`. */
interface Stretch {
  readonly from: number;
  readonly upto: number;
}

/** The leads that a run goes over, as SQL: those that wait for it, those that nobody has, and those that go through the stream again. */
function leadsOf(
  { key, entering, again: asksAgain = [], routes }: Stream,
  { from, upto }: Stretch,
): { sql: string; values: unknown[] } {
  const parts: [test: string, values: unknown[]][] = [
    ["place = 'bay' AND JSON_VALUE(bay, '$.why') = 'scheduled' AND JSON_VALUE(bay, '$.stream') = ?", [key]],
    ["place = 'not-handed-over' AND nobody_because IS NULL", []],
  ];
  if (asksAgain.includes('schedule') && routes.length > 0)
    parts.push(["place IN ('owner', 'queue') AND route IN (?)", [routes.map((route) => route.key)]]);
  return {
    sql: parts
      .map(
        ([test]) => `SELECT id FROM \`lead\` WHERE stage IN (?) AND status = 'open' AND id > ? AND id <= ? AND ${test}`,
      )
      .join(' UNION ALL '),
    values: parts.flatMap(([, values]) => [entering, from, upto, ...values]),
  };
}

/** The ids of the next leads of a run, in the order in which they came in. */
export async function nextOf(
  manager: EntityManager,
  stream: Stream,
  stretch: Stretch,
  most: number,
): Promise<number[]> {
  const { sql, values } = leadsOf(stream, stretch);
  const rows = await manager.query<{ id: number }[]>(`SELECT id FROM (${sql}) one ORDER BY id LIMIT ${most}`, values);
  return rows.map(({ id }) => id);
}

/** The number of leads that a run begun now would go over, and the highest id of a lead. */
export async function reachOf(manager: EntityManager, stream: Stream): Promise<{ leads: number; upto: number }> {
  const [top] = await manager.query<{ id: number | null }[]>('SELECT MAX(id) AS id FROM `lead`');
  const upto = top?.id ?? 0;
  const { sql, values } = leadsOf(stream, { from: 0, upto });
  const [row] = await manager.query<{ leads: string }[]>(`SELECT COUNT(*) AS leads FROM (${sql}) one`, values);
  return { leads: Number(row?.leads ?? 0), upto };
}

/**
 * Begins a run; its leads are given away by the background job.
 *
 * @param begun by a person, or by its schedule, at the instant that was due
 * @throws Refused `stream-runs` while it runs
 */
export async function beginRun(
  { manager }: Pick<DataSource, 'manager'>,
  stream: Stream,
  begun: { readonly hand: Hand } | { readonly due: Date },
  now: Date,
): Promise<StreamRunEntity> {
  const user = 'hand' in begun ? begun.hand.user : null;
  const row = manager.create(StreamRunEntity, {
    stream: stream.key,
    running: true,
    due: 'due' in begun ? begun.due : null,
    person: user?.key ?? null,
    by: user?.name ?? null,
    state: 'running',
    startedAt: now,
    endedAt: null,
    ...(await reachOf(manager, stream)),
    ...{ reached: 0, done: 0, given: 0, failed: 0 },
  });
  try {
    return await manager.save(row);
  } catch (error) {
    if (isDuplicate(error, 'stream_run')) throw Refused.as('stream-runs');
    throw error;
  }
}

/** Stops a run: what it gave away stays given. */
export async function stopRun({ manager }: DataSource, id: number, now: Date): Promise<StreamRunEntity> {
  await manager.update(StreamRunEntity, { id, running: true }, { running: null, state: 'stopped', endedAt: now });
  const row = await manager.findOneBy(StreamRunEntity, { id });
  if (row === null) throw Refused.notFound();
  return row;
}

/**
 * Carries a run on to its end, batch by batch. A batch that fails is done lead by lead, and a lead on which it fails is passed over. Two
 * servers take turns: each batch holds the row of the run.
 */
export async function carryOnRun(source: DataSource, id: number, now: () => Date): Promise<void> {
  const ahead: number[] = [];
  for (let alone = 0; ; alone = Math.max(0, alone - 1)) {
    try {
      if (!(await nextBatch(source, id, ahead, alone > 0 ? 1 : BATCH, now()))) return;
    } catch (error) {
      if (isDatabaseAway(error) || error instanceof CharterUnusable) throw error;
      if (alone > 0) await passOver(source, id);
      else alone = BATCH + 1;
    }
  }
}

/**
 * @param ahead ids that were looked up; those that someone gave away meanwhile are decided too, and stay with whom they are
 * @returns whether something may be left to do
 */
async function nextBatch(source: DataSource, id: number, ahead: number[], most: number, now: Date): Promise<boolean> {
  return act(source, now, async (acting) => {
    const { manager } = acting;
    const run = await lockedRun(manager, id);
    if (run === null) return false;
    const governing = await readGoverning(manager, 'share');
    const stream = governing.ready.charter.streams.find(({ key, on }) => on && key === run.stream);
    if (stream !== undefined && !ahead.some((one) => one > run.reached))
      ahead.splice(0, ahead.length, ...(await nextOf(manager, stream, { from: run.reached, upto: run.upto }, AHEAD)));
    const ids = stream === undefined ? [] : ahead.filter((one) => one > run.reached).slice(0, most);
    const last = ids.at(-1);
    if (last === undefined) {
      await manager.update(StreamRunEntity, id, { running: null, state: 'done', endedAt: now });
      return false;
    }
    // Some may have been closed since they were looked up.
    const leads = (await loadLeads(manager, ids, 'write')).filter(({ entity }) => entity.status === 'open');
    const cause: Cause = run.person === null ? RELVIK : handOf({ key: run.person, name: run.by ?? run.person });
    const outcomes = await perform(
      acting,
      leads.map((lead) => again(lead, 'scheduled', cause, now)),
      governing,
      { ...governing, ready: duringRun(governing.ready, run.stream) },
    );
    const given = outcomes.filter(({ act: { stored }, after }) => {
      const place = placeOf(after);
      return (
        (place.kind === 'owner' || place.kind === 'queue') && (stored === null || !samePlace(placeOf(stored), place))
      );
    });
    await manager.update(StreamRunEntity, id, {
      reached: last,
      done: run.done + ids.length,
      given: run.given + given.length,
    });
    return true;
  });
}

/** The row of a run, locked; null: it runs no more. */
function lockedRun(manager: EntityManager, id: number): Promise<StreamRunEntity | null> {
  return manager
    .createQueryBuilder(StreamRunEntity, 'run')
    .where('run.id = :id AND run.running', { id })
    .setLock('pessimistic_write')
    .getOne();
}

/** The next lead can't be decided: it stays where it is. */
async function passOver({ manager }: DataSource, id: number): Promise<void> {
  const run = await manager.findOneBy(StreamRunEntity, { id, running: true });
  if (run === null) return;
  const stream = await scheduledStream(manager, run.stream).catch(() => null);
  const [next] = stream === null ? [] : await nextOf(manager, stream, { from: run.reached, upto: run.upto }, 1);
  if (next === undefined) return;
  await manager.update(
    StreamRunEntity,
    { id, reached: run.reached },
    { reached: next, done: run.done + 1, failed: run.failed + 1 },
  );
}
