import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { type LeadRight, rightsOn, sees } from '../session/rights';
import type { User } from '../session/session-store';
import { type Sight, sightOf } from '../session/sight';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { act } from './acting';
import type { Acting } from './perform';

/** The user who works by hand, and the time. */
export interface Hand {
  readonly user: User;
  readonly at: Date;
}

/** A lead that someone works on: locked, in their sight, theirs to do this with. */
export interface InHand {
  readonly lead: StoredLead;
  readonly sight: Sight;
}

/**
 * Locks leads for work by hand, and checks rights on them as they are now.
 *
 * @throws Refused `not-found` for one outside the user's sight, `forbidden` for one they see only
 */
export async function takeInHand(
  manager: EntityManager,
  ids: readonly number[],
  right: LeadRight,
  { user }: Hand,
): Promise<InHand[]> {
  const leads = new Map((await loadLeads(manager, ids, 'write')).map((lead) => [lead.entity.id, lead]));
  const sight = await sightOf(manager, user);
  return ids.map((id) => {
    const lead = leads.get(id);
    if (lead === undefined) throw Refused.notFound();
    if (!sees(lead.entity, sight)) throw right === 'pickUp' ? unseen(lead, sight) : Refused.notFound();
    if (!rightsOn(lead.entity, sight, user)[right]) throw refusal(lead, right);
    return { lead, sight };
  });
}

/** A lead that a colleague took out of a queue of the user’s is out of their sight since then. */
function unseen({ entity: { pickedFrom } }: StoredLead, sight: Sight): Refused {
  return pickedFrom !== null && !sight.all && sight.queues.includes(pickedFrom)
    ? Refused.as('picked-up-already')
    : Refused.notFound();
}

function refusal({ entity }: StoredLead, right: LeadRight): Refused {
  if (entity.status !== 'open') return Refused.as('lead-closed', { detail: `It was closed as ${entity.status}.` });
  return Refused.as(right === 'pickUp' && entity.place !== 'queue' ? 'picked-up-already' : 'forbidden');
}

/** Works on one lead by hand, in one transaction. */
export function byHand<T>(
  source: DataSource,
  id: number,
  right: LeadRight,
  hand: Hand,
  work: (acting: Acting, inHand: InHand) => Promise<T>,
): Promise<T> {
  return act(source, hand.at, async (acting) => {
    const [inHand] = await takeInHand(acting.manager, [id], right, hand);
    if (inHand === undefined) throw Refused.notFound();
    return work(acting, inHand);
  });
}
