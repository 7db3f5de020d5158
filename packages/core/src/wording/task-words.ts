import { momentText } from '../record/day';
import type { MadeTask, TaskRule, TaskWork } from '../task/task';

export const WORK_WORDS: Readonly<Record<TaskWork, string>> = {
  call: 'call',
  mail: 'mail',
  meeting: 'meeting',
  other: 'task',
};

/** A task that a rule makes, in words: "makes the call “Ring back”, due in 4 working hours". */
export function taskRuleWords({ title, work, minutes, working }: TaskRule): string {
  return `makes the ${WORK_WORDS[work]} “${title}”, due ${minutes === 0 ? 'at once' : `in ${spanWords(minutes, working)}`}`;
}

/** A task that was made, in words: "makes the call “Ring back”, due Mon 30 Mar 11:20". */
export function madeTaskWords({ title, work, due }: MadeTask, zone: string): string {
  return `makes the ${WORK_WORDS[work]} “${title}”, due ${momentText(due, zone)}`;
}

function spanWords(minutes: number, working: boolean): string {
  const [many, unit] = minutes % 60 === 0 ? [minutes / 60, 'hour'] : [minutes, 'minute'];
  return `${many} ${working ? 'working ' : ''}${unit}${many === 1 ? '' : 's'}`;
}
