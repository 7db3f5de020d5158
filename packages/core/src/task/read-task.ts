import { number, oneOf, orElse, type Read, text, yesNo } from '../document/read-json';
import { TASK_WORK, type TaskRule } from './task';

/** A year: what takes longer is no task. */
const MOST_MINUTES = 366 * 24 * 60;

/** The members of a task that a rule makes. */
export const TASK_MEMBERS: { readonly [K in keyof TaskRule]: Read<TaskRule[K]> } = {
  title: text({ most: 200 }),
  work: orElse(oneOf(TASK_WORK), 'other'),
  minutes: number({ least: 0, most: MOST_MINUTES }),
  working: orElse(yesNo, true),
};

/** The members that may be missing. */
export const TASK_OPTIONAL = ['work', 'working'] as const;
