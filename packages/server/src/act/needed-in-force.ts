import { bindCharter, type Surroundings } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { charterInForce, readWorldOutside } from '../store/governing';

/**
 * Refuses a change of fields, spellings or regions after which the charter in force could not be used: no lead could be decided.
 *
 * @param changed the surroundings as they would be; missing parts are read
 */
export async function refuseIfNeededInForce(
  manager: EntityManager,
  changed: (known: Surroundings) => Surroundings = (known) => known,
): Promise<void> {
  const { body } = await charterInForce(manager, 'none');
  const binding = bindCharter(body, changed(await readWorldOutside(manager)));
  if (binding.ok) return;
  const places = binding.problems.map(({ path, message }) => `${path} ${message}`);
  throw Refused.as('needed-in-force', { detail: `Change the charter first: ${places.slice(0, 5).join('; ')}` });
}
