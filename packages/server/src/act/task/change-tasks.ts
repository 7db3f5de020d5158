import type { ChangeTask, EndTask, NewTask } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../../problem/refused';
import { type Sight, sightOf } from '../../session/sight';
import { ChangeEntity } from '../../store/entity/history.entity';
import { OutboxEntity } from '../../store/entity/outbox.entity';
import { PersonEntity } from '../../store/entity/people.entity';
import { TaskEntity } from '../../store/entity/task.entity';
import { insertRows } from '../../store/rows';
import { inTransaction } from '../../store/transaction';
import { lineOf } from '../change-source';
import { toSend } from '../effects';
import type { Hand } from '../hand';
import { anyInSight, mayChange, type TaskRecord } from './task-in-hand';

/**
 * Makes a task by hand, for the owner of the record where nobody else is named.
 *
 * @returns its id
 */
export function makeTask(source: DataSource, made: NewTask, hand: Hand): Promise<number> {
  return inTransaction(source, async (manager) => {
    const sight = await sightOf(manager, hand.user);
    const record = await anyInSight(manager, made.record, sight);
    const owner = made.owner ?? record.owner ?? hand.user.key;
    await checkOwner(manager, owner, record, sight);
    return insertTask(manager, record.id, { ...made, owner }, hand);
  });
}

/** Puts a task off, gives it to someone else, or writes it otherwise. */
export function changeTask(source: DataSource, id: number, change: ChangeTask, hand: Hand): Promise<void> {
  return onTask(source, id, change.version, hand, async (manager, { task, record, sight }) => {
    if (task.state !== 'open') throw Refused.as('task-ended');
    const { title = task.title, work = task.work, due, owner = task.owner } = change;
    if (owner !== task.owner && owner !== null) await checkOwner(manager, owner, record, sight);
    await manager.update(TaskEntity, id, {
      ...{ title, work, owner, version: task.version + 1 },
      due: due === undefined ? task.due : new Date(due),
      deputyFor: owner === task.owner ? task.deputyFor : null,
    });
    if (owner !== task.owner) {
      const name = owner === null ? 'nobody' : await nameOf(manager, owner);
      await insertRows(manager, ChangeEntity, [
        { ...lineOf(record.id, hand), field: 'task', from: title, to: `given to ${name}` },
      ]);
      await tellOwner(manager, owner, record.id, hand);
    }
  });
}

/**
 * Ends a task as done, with its result, or as cancelled; the next one may follow at once, for the same person.
 *
 * @returns the id of the next one; null: none follows
 */
export function endTask(
  source: DataSource,
  id: number,
  { version, as = 'done', result = null, next = null }: EndTask,
  hand: Hand,
): Promise<number | null> {
  return onTask(source, id, version, hand, async (manager, { task, record }) => {
    if (task.state !== 'open') throw Refused.as('task-ended');
    const said = result === '' ? null : result;
    await manager.update(TaskEntity, id, {
      ...{ state: as, result: said, endedAt: hand.at, endedBy: hand.user.name },
      ...{ version: task.version + 1, deputyFor: null },
    });
    await insertRows(manager, ChangeEntity, [
      { ...lineOf(record.id, hand), field: 'task', from: task.title, to: as, reason: said },
    ]);
    return next === null
      ? null
      : insertTask(manager, record.id, { ...next, record: record.id, owner: task.owner }, hand);
  });
}

/** Opens a task again that was ended by mistake. */
export function reopenTask(source: DataSource, id: number, version: number, hand: Hand): Promise<void> {
  return onTask(source, id, version, hand, async (manager, { task, record }) => {
    if (task.state === 'open') return;
    await manager.update(TaskEntity, id, {
      ...{ state: 'open', result: null, endedAt: null, endedBy: '', version: task.version + 1 },
    });
    await insertRows(manager, ChangeEntity, [
      { ...lineOf(record.id, hand), field: 'task', from: task.title, to: 'open again' },
    ]);
  });
}

interface TaskInHand {
  readonly task: TaskEntity;
  readonly record: TaskRecord;
  readonly sight: Sight;
}

/** Works on one task, its row locked, if the user sees its record and may change it. */
function onTask<T>(
  source: DataSource,
  id: number,
  version: number,
  hand: Hand,
  work: (manager: EntityManager, inHand: TaskInHand) => Promise<T>,
): Promise<T> {
  return inTransaction(source, async (manager) => {
    const task = await manager.findOne(TaskEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (task === null) throw Refused.notFound();
    const sight = await sightOf(manager, hand.user);
    const record = await anyInSight(manager, task.record, sight);
    if (!mayChange(task, record, sight, hand.user)) throw Refused.as('forbidden');
    if (task.version !== version) throw Refused.as('task-changed');
    return work(manager, { task, record, sight });
  });
}

async function insertTask(
  manager: EntityManager,
  record: number,
  { title, work = 'other', due, owner = null }: NewTask,
  hand: Hand,
): Promise<number> {
  const { identifiers } = await manager.insert(TaskEntity, {
    ...{ record, version: 1, title, work, due: new Date(due), owner, deputyFor: null, state: 'open', result: null },
    ...{ endedAt: null, endedBy: '', madeBy: hand.user.name, madeAt: hand.at, rule: null, charter: null },
  });
  await insertRows(manager, ChangeEntity, [{ ...lineOf(record, hand), field: 'task', from: null, to: title }]);
  await tellOwner(manager, owner, record, hand);
  return Number(identifiers[0]?.['id']);
}

/** Whoever gets a task from someone else is told. */
async function tellOwner(
  manager: EntityManager,
  owner: string | null,
  record: number,
  { user, at }: Hand,
): Promise<void> {
  if (owner === null || owner === user.key) return;
  await insertRows(manager, OutboxEntity, [
    toSend({ person: owner, queue: null, notice: 'task', job: null }, record, at),
  ]);
}

async function nameOf(manager: EntityManager, key: string): Promise<string> {
  return (await manager.findOneBy(PersonEntity, { key }))?.name ?? key;
}

/** @throws Refused for someone who can't be given a task by this user: the owner of the record always can */
async function checkOwner(manager: EntityManager, owner: string, record: TaskRecord, sight: Sight): Promise<void> {
  if (owner === record.owner) return;
  const person = await manager.findOneBy(PersonEntity, { key: owner, retired: false });
  const problem =
    person === null ? 'is nobody here' : sight.all || sight.owners.includes(owner) ? null : 'is not in your teams';
  if (problem !== null) throw Refused.invalid([{ path: '/owner', message: problem }]);
}
