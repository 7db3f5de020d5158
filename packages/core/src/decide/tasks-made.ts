import type { ReadyCharter } from '../charter/ready-charter';
import type { Organisation } from '../people/people';
import type { RepKey, RouteKey } from '../record/keys';
import type { RecordKind } from '../record/kind';
import { attemptBy } from '../route/attempts';
import { type MadeTask, tasksBy } from '../task/task';
import type { Appraisal } from './decision';

/**
 * The tasks that come with a decision: of the gates passed, in order, each to its own stage; then of the route that placed the record.
 *
 * @param route null: no route gave it away
 * @param owner the one after the decision; null: nobody
 */
export function tasksMade(
  { rules }: ReadyCharter,
  kind: RecordKind,
  { asOf, gates: { moves } }: Pick<Appraisal, 'asOf' | 'gates'>,
  route: RouteKey | null,
  owner: RepKey | null,
  people: Organisation,
): MadeTask[] {
  const { gates, streams } = rules[kind];
  const passed = moves.flatMap(({ gate, to }) => gates.filter((one) => one.key === gate && one.to === to));
  // Whoever comes through a gate once more gets its tasks once.
  const once = [...new Set(passed)];
  const tasks = route === null ? [] : (attemptBy(streams, route)?.route.tasks ?? []);
  const makers = [...once, ...(route === null ? [] : [{ key: route, tasks }])];
  return makers.flatMap((maker) => tasksBy(maker, asOf, owner, people));
}
