import { type EntityManager, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { LeadEntity } from '../store/entity/lead.entity';
import type { Outcome } from './write';

function keyOf({ openFor, pipeline }: Pick<LeadEntity, 'openFor' | 'pipeline'>): string {
  return `${pipeline} ${openFor ?? ''}`;
}

/** Whether a known lead would stand as the open one of its person or company where it did not before. What just came in was looked for. */
function isNewThere({ act: { stored }, after }: Outcome): boolean {
  return stored !== null && after.openFor !== null && keyOf(after) !== keyOf(stored);
}

/**
 * Keeps one lead open for a person, or a company without one, and pipeline. One that a merged stage, or a join of contacts, brought
 * beside another stands there without being the one to which inquiries are added, until the two are joined or one is closed.
 *
 * @throws Refused `email-taken` if a known lead would get an e-mail of a person who has another one open there
 */
export async function keepOneOpen(manager: EntityManager, outcomes: readonly Outcome[]): Promise<void> {
  const changed = outcomes.filter(isNewThere);
  if (changed.length === 0) return;
  const others = await manager.find(LeadEntity, {
    select: { id: true, openFor: true, pipeline: true },
    where: { openFor: In(changed.map(({ after }) => after.openFor)) },
  });
  const having = new Map(others.map((one) => [keyOf(one), one.id]));
  for (const { act, after } of changed) {
    const key = keyOf(after);
    const other = having.get(key);
    if (other === undefined || other === after.id) having.set(key, after.id);
    else if (act.stored !== null && act.stored.email !== after.email)
      throw Refused.as('email-taken', { detail: `Lead ${other} is open and has ${after.email ?? ''}.`, other });
    else after.openFor = null;
  }
}
