import {
  changeTaskSchema,
  endTaskSchema,
  newTaskSchema,
  reopenTaskSchema,
  type TaskCounts,
  type TaskPage,
  taskQuerySchema,
} from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { changeTask, endTask, makeTask, reopenTask } from '../act/task/change-tasks';
import { type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { countTasks, listTasks } from '../list/tasks';
import { sightOf } from '../session/sight';

/** Tasks: lists of them, and what people do with them. */
export function taskEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/tasks',
      who: EVERYONE,
      query: taskQuerySchema,
      answer: json<TaskPage>(),
      call: async ({ caller, query, now }) => listTasks(manager, await sightOf(manager, caller), caller, query, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/task-count',
      who: EVERYONE,
      answer: json<TaskCounts>(),
      call: ({ caller, now }) => countTasks(manager, caller, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/tasks',
      who: EVERYONE,
      body: newTaskSchema,
      answer: json<{ id: number }>(201),
      call: async ({ caller, body, now }) => ({ id: await makeTask(source, body, { user: caller, at: now }) }),
    }),
    endpoint({
      method: 'patch',
      path: '/api/tasks/:id',
      who: EVERYONE,
      params: byId,
      body: changeTaskSchema,
      answer: json<{ id: number }>(),
      async call({ caller, params: { id }, body, now }) {
        await changeTask(source, id, body, { user: caller, at: now });
        return { id };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/tasks/:id/end',
      who: EVERYONE,
      params: byId,
      body: endTaskSchema,
      answer: json<{ next: number | null }>(),
      call: async ({ caller, params: { id }, body, now }) => ({
        next: await endTask(source, id, body, { user: caller, at: now }),
      }),
    }),
    endpoint({
      method: 'post',
      path: '/api/tasks/:id/reopen',
      who: EVERYONE,
      params: byId,
      body: reopenTaskSchema,
      answer: json<{ id: number }>(),
      async call({ caller, params: { id }, body: { version }, now }) {
        await reopenTask(source, id, version, { user: caller, at: now });
        return { id };
      },
    }),
  ];
}
