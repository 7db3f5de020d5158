import { type EntityManager, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { LeadEntity } from '../store/entity/lead.entity';
import type { Outcome } from './write';

function keyOf({ openEmail, pipeline }: Pick<LeadEntity, 'openEmail' | 'pipeline'>): string {
  return `${pipeline} ${openEmail ?? ''}`;
}

/** Whether a known lead would stand as the open one of its e-mail where it did not before. What just came in was looked for. */
function isNewThere({ act: { stored }, after }: Outcome): boolean {
  return stored !== null && after.openEmail !== null && keyOf(after) !== keyOf(stored);
}

/**
 * Keeps one lead open for an e-mail and pipeline. One that a merged stage brought into a pipeline where the person has an open
 * lead already stands beside it, without being the one to which inquiries are added, until the two are joined or one is closed.
 *
 * @throws Refused `email-taken` if a known lead would get the e-mail of another one that is open there
 */
export async function keepOneOpen(manager: EntityManager, outcomes: readonly Outcome[]): Promise<void> {
  const changed = outcomes.filter(isNewThere);
  if (changed.length === 0) return;
  const others = await manager.find(LeadEntity, {
    select: { id: true, openEmail: true, pipeline: true },
    where: { openEmail: In(changed.map(({ after }) => after.openEmail)) },
  });
  const having = new Map(others.map((one) => [keyOf(one), one.id]));
  for (const { act, after } of changed) {
    const key = keyOf(after);
    const other = having.get(key);
    if (other === undefined || other === after.id) having.set(key, after.id);
    else if (act.stored !== null && act.stored.email !== after.email)
      throw Refused.as('email-taken', { detail: `Lead ${other} is open and has ${after.openEmail}.`, other });
    else after.openEmail = null;
  }
}
