import type { EntityManager } from 'typeorm';
import { charterInForce } from '../store/governing';
import type { PopulationDesk } from './population-desk';
import { hasMoreThan } from './read-population';

/** From this number of leads on, reading the population takes longer than anyone likes to wait. */
const SLOW_TO_READ = 10_000;

/**
 * Makes counts, populations and their indexes for the charter in force ahead of the first request, if there are many leads.
 *
 * @param slow the number of leads beyond which it is done
 */
export async function readAhead(
  manager: EntityManager,
  counts: { warm(): Promise<void> },
  desks: readonly PopulationDesk[],
  slow = SLOW_TO_READ,
): Promise<void> {
  if (!(await hasMoreThan(manager, slow))) return;
  await counts.warm();
  const { body } = await charterInForce(manager, 'none');
  const pair = { inForce: body, draft: body };
  for (const desk of desks) {
    await desk.load();
    await desk.ask({ question: 'impact', asks: { pair, reading: { kind: 'came-in' } } });
  }
}
