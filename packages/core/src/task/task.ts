import { calendarOf } from '../people/calendars';
import type { Organisation } from '../people/people';
import type { Instant, RepKey } from '../record/keys';

/** The kinds of work that tasks ask for. */
export const TASK_WORK = ['call', 'mail', 'meeting', 'other'] as const;
export type TaskWork = (typeof TASK_WORK)[number];

export const TASK_STATES = ['open', 'done', 'cancelled'] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** A task that a gate or route makes for the owner of a record. */
export interface TaskRule {
  readonly title: string;
  readonly work: TaskWork;
  /** How long it may take until it is done. */
  readonly minutes: number;
  /** Whether only the owner's working time counts. */
  readonly working: boolean;
}

/** A task as a rule has made it. */
export interface MadeTask extends Pick<TaskRule, 'title' | 'work'> {
  readonly due: Instant;
  /** Null: the record has no owner yet. */
  readonly owner: RepKey | null;
  /** The key of the gate or route. */
  readonly rule: string;
}

const MINUTE = 60_000;

/**
 * When a task is due: so many minutes after it was made, of the owner's working time where only that counts. Without an owner, and
 * for someone who does not work within three years, every minute counts.
 *
 * @example In 4 working hours, made on Friday at 15:20 for someone who works from 9 to 17: on Monday at 11:20
 */
export function dueAt(
  { minutes, working }: Pick<TaskRule, 'minutes' | 'working'>,
  made: Instant,
  owner: RepKey | null,
  people: Organisation,
): Instant {
  const rep = working && owner !== null ? people.reps.get(owner) : undefined;
  const worked = rep === undefined ? null : calendarOf(rep, people).after(made, minutes);
  return worked ?? made + minutes * MINUTE;
}

/** Makes the tasks of a gate or route. */
export function tasksBy(
  { key: rule, tasks }: { readonly key: string; readonly tasks: readonly TaskRule[] },
  made: Instant,
  owner: RepKey | null,
  people: Organisation,
): MadeTask[] {
  return tasks.map(({ title, work, ...time }) => ({ title, work, due: dueAt(time, made, owner, people), owner, rule }));
}
