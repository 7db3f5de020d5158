import { type Instant, type RecordKind, type RepKey, TASK_WORK, type TaskState, type TaskWork } from '@relvik/core';
import { boolean, number, object, string } from 'yup';
import { keyText, trimmed } from './text';

const id = number().integer().min(1).max(4_294_967_295);
/** The last instant of the year 2999: nobody plans further. */
const LATEST = 32_503_679_999_999;

const due = number().integer().min(0).max(LATEST, 'is too far away').required('Say when it is due');
const title = trimmed().required('Say what is to be done').max(200);
const work = string<TaskWork>().oneOf(TASK_WORK);

export const newTaskSchema = object({
  record: id.required('Say of which record'),
  title,
  work: work.default('other'),
  due,
  /** Missing: the owner of the record, else whoever makes it. */
  owner: keyText().nullable(),
}).exact();
export interface NewTask {
  readonly record: number;
  readonly title: string;
  readonly work?: TaskWork;
  readonly due: Instant;
  readonly owner?: string | null;
}

/** Members that are missing stay as they are. */
export const changeTaskSchema = object({
  version: number().integer().required(),
  title: trimmed().min(1, 'Say what is to be done').max(200),
  work,
  due: number().integer().min(0).max(LATEST, 'is too far away'),
  owner: keyText().nullable(),
}).exact();
export interface ChangeTask {
  readonly version: number;
  readonly title?: string;
  readonly work?: TaskWork;
  readonly due?: Instant;
  readonly owner?: string | null;
}

/** A task that is done, with its result, and the one that follows; or one that is not needed any more. */
export const endTaskSchema = object({
  version: number().integer().required(),
  as: string().oneOf(['done', 'cancelled']).default('done'),
  result: trimmed().max(500).nullable(),
  next: object({ title, work: work.default('other'), due })
    .exact()
    .nullable()
    .default(null),
}).exact();
export interface EndTask {
  readonly version: number;
  readonly as?: 'done' | 'cancelled';
  readonly result?: string | null;
  readonly next?: Pick<NewTask, 'title' | 'work' | 'due'> | null;
}

export const reopenTaskSchema = object({ version: number().integer().required() }).exact();

export const taskQuerySchema = object({
  /** `mine`: the user's own; `seen`: all in their sight. */
  whose: string().oneOf(['mine', 'seen']).default('mine'),
  /** `ended`: done or cancelled, the newest first. */
  state: string().oneOf(['open', 'ended']).default('open'),
  /** Only what is overdue. */
  overdue: boolean(),
  /** All of one record, whoever has them. */
  record: id,
  /** The mark of the last one of the page before. */
  after: string().matches(/^\d{1,14} \d{1,10}$/, 'is no mark of a page'),
}).exact();
export interface TaskQuery {
  readonly whose?: 'mine' | 'seen';
  readonly state?: 'open' | 'ended';
  readonly overdue?: boolean;
  readonly record?: number;
  readonly after?: string;
}

export interface TaskRow {
  readonly id: number;
  readonly version: number;
  readonly title: string;
  readonly work: TaskWork;
  readonly due: Instant;
  readonly owner: RepKey | null;
  readonly state: TaskState;
  readonly result: string | null;
  /** When it was done or cancelled, and by whom; empty: by Relvik. */
  readonly endedAt: Instant | null;
  readonly endedBy: string;
  /** The name of the person who made it; empty: a gate or route did. */
  readonly madeBy: string;
  readonly rule: string | null;
  readonly madeAt: Instant;
  readonly record: { readonly kind: RecordKind; readonly id: number; readonly name: string; readonly beside: string };
  /** Whether the user may change it. */
  readonly may: boolean;
}

export interface TaskPage {
  readonly rows: readonly TaskRow[];
  /** Null on the last page. */
  readonly next: string | null;
  readonly asOf: Instant;
}

/** How many open tasks a user has. */
export interface TaskCounts {
  readonly open: number;
  readonly overdue: number;
}
