import type { TaskCounts, TaskPage, TaskQuery, TaskRow } from '@relvik/contracts';
import { type RecordKind, RECORD_KINDS, type RepKey, type TaskState, type TaskWork } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { anyInSight, mayChange } from '../act/task/task-in-hand';
import type { User } from '../session/session-store';
import { lookedAt, type Sight } from '../session/sight';

const SIZE = 50;

interface Found {
  readonly id: number;
  readonly version: number;
  readonly title: string;
  readonly work: TaskWork;
  readonly due: Date;
  readonly owner: string | null;
  readonly state: TaskState;
  readonly result: string | null;
  readonly ended_at: Date | null;
  readonly ended_by: string;
  readonly made_by: string;
  readonly made_at: Date;
  readonly rule: string | null;
  readonly record: number;
  readonly kind: RecordKind;
  readonly name: string | null;
  readonly beside: string | null;
  readonly record_owner: string | null;
}

/** A task `t` with its record of whatever kind. */
const WITH_RECORD = `JOIN record rec ON rec.id = t.record
  LEFT JOIN \`lead\` l ON l.id = t.record LEFT JOIN deal d ON d.id = t.record
  LEFT JOIN contact c ON c.id = t.record LEFT JOIN company f ON f.id = t.record
  LEFT JOIN company of_deal ON of_deal.id = d.company LEFT JOIN company of_contact ON of_contact.id = c.company`;

interface Clause {
  readonly sql: string;
  readonly parameters: readonly unknown[];
}

/** The user's own tasks, those of the records in their sight, and of a manager those of the people whom they direct. */
function tasksSeen(sight: Sight, { key, role }: User): Clause {
  if (sight.all) return { sql: 'TRUE', parameters: [] };
  const leads = lookedAt(sight);
  return {
    sql: `(t.owner IN (?) OR ${leads.sql} OR COALESCE(d.owner, c.owner, f.owner) IN (?))`,
    parameters: [role === 'manager' ? sight.owners : [key], ...leads.parameters, sight.owners],
  };
}

/** A page of tasks: open ones by when they are due, ended ones the newest first. */
export async function listTasks(
  manager: EntityManager,
  sight: Sight,
  user: User,
  { whose = 'mine', state = 'open', overdue = false, record, after }: TaskQuery,
  now: Date,
): Promise<TaskPage> {
  // Whoever sees a record sees all its tasks.
  if (record !== undefined) await anyInSight(manager, record, sight);
  const order = state === 'open' ? 't.due' : 't.ended_at';
  const all: Clause[] = [
    state === 'open' ? { sql: "t.state = 'open'", parameters: [] } : { sql: 't.ended_at IS NOT NULL', parameters: [] },
  ];
  if (record !== undefined) all.push({ sql: 't.record = ?', parameters: [record] });
  else all.push(whose === 'mine' ? { sql: 't.owner = ?', parameters: [user.key] } : tasksSeen(sight, user));
  if (overdue) all.push({ sql: 't.due < ?', parameters: [now] });
  if (after !== undefined) {
    const [at = 0, id = 0] = after.split(' ').map(Number);
    const mark = new Date(at);
    all.push({
      sql: state === 'open' ? '(t.due, t.id) > (?, ?)' : `(${order}, t.id) < (?, ?)`,
      parameters: [mark, id],
    });
  }
  const way = state === 'open' ? 'ASC' : 'DESC';
  const found = await manager.query<Found[]>(
    `SELECT t.*, rec.kind, COALESCE(NULLIF(l.name, ''), NULLIF(l.company, ''), l.email, d.name, NULLIF(c.name, ''), c.email, f.name) AS name,
      COALESCE(l.company, of_deal.name, of_contact.name, '') AS beside, COALESCE(l.owner, d.owner, c.owner, f.owner) AS record_owner
     FROM task t ${WITH_RECORD} WHERE ${all.map(({ sql }) => sql).join(' AND ')}
     ORDER BY ${order} ${way}, t.id ${way} LIMIT ${SIZE + 1}`,
    all.flatMap(({ parameters }) => parameters),
  );
  const shown = found.slice(0, SIZE);
  const last = shown.at(-1);
  const mark = last === undefined ? null : state === 'open' ? last.due : last.ended_at;
  return {
    rows: shown.map((row) => rowOf(row, sight, user)),
    next: found.length > SIZE && last !== undefined ? `${mark?.getTime() ?? 0} ${last.id}` : null,
    asOf: now.getTime(),
  };
}

function rowOf(row: Found, sight: Sight, user: User): TaskRow {
  const { id, version, title, work, due, owner, state, result, rule } = row;
  const name = row.name ?? '';
  return {
    ...{ id, version, title, work, due: due.getTime(), owner: owner as RepKey | null, state, result, rule },
    endedAt: row.ended_at?.getTime() ?? null,
    endedBy: row.ended_by,
    madeBy: row.made_by,
    madeAt: row.made_at.getTime(),
    record: {
      kind: RECORD_KINDS.find((kind) => kind === row.kind) ?? 'lead',
      id: row.record,
      name,
      beside: row.beside === name ? '' : (row.beside ?? ''),
    },
    may: mayChange({ owner }, { owner: row.record_owner }, sight, user),
  };
}

/** How many open tasks a user has, and how many of them are overdue. */
export async function countTasks(manager: EntityManager, { key }: User, now: Date): Promise<TaskCounts> {
  const [row] = await manager.query<{ open: string; overdue: string | null }[]>(
    "SELECT COUNT(*) AS open, SUM(due < ?) AS overdue FROM task WHERE owner = ? AND state = 'open'",
    [now, key],
  );
  return { open: Number(row?.open ?? 0), overdue: Number(row?.overdue ?? 0) };
}

/** The overdue tasks of a user, and of those whom they direct. */
export async function overdueTasks(
  manager: EntityManager,
  sight: Sight,
  user: User,
  now: Date,
): Promise<{ readonly count: number; readonly since: number | null }> {
  const seen: Clause = user.role === 'rep' ? { sql: 't.owner = ?', parameters: [user.key] } : tasksSeen(sight, user);
  const [row] = await manager.query<{ n: string; since: Date | null }[]>(
    `SELECT COUNT(*) AS n, MIN(t.due) AS since FROM task t ${user.role === 'rep' || sight.all ? '' : WITH_RECORD}
     WHERE t.state = 'open' AND t.due < ? AND ${seen.sql}`,
    [now, ...seen.parameters],
  );
  return { count: Number(row?.n ?? 0), since: row?.since?.getTime() ?? null };
}

/** When the next open task of each record is due, by id. */
export async function nextTasks(manager: EntityManager, ids: readonly number[]): Promise<ReadonlyMap<number, number>> {
  if (ids.length === 0) return new Map();
  const rows = await manager.query<{ record: number; due: Date }[]>(
    "SELECT record, MIN(due) AS due FROM task WHERE record IN (?) AND state = 'open' GROUP BY record",
    [ids],
  );
  return new Map(rows.map(({ record, due }) => [record, due.getTime()]));
}
