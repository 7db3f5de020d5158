import type { Decision } from '../decide/decision';
import { dealWords } from '../wording/effect-words';
import type { Wording } from '../wording/subject-words';
import { madeTaskWords } from '../wording/task-words';

/**
 * The deal and the tasks that come with a decision, each with the gate or route that makes it.
 *
 * @param zone of the times, an IANA name
 */
export function madeWords(
  { deal, tasks = [] }: Pick<Decision, 'deal' | 'tasks'>,
  wording: Wording,
  zone: string,
): string[] {
  const { names } = wording;
  const nameOf = (rule: string): string => (names.gate(rule) === rule ? names.route(rule) : names.gate(rule));
  return [
    ...(deal === undefined ? [] : [`${nameOf(deal.rule)}: ${dealWords(deal, wording)}`]),
    ...tasks.map((task) => `${nameOf(task.rule)}: ${madeTaskWords(task, zone)}`),
  ];
}
