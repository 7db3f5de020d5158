import type { LeadDetail } from '@relvik/contracts';
import type { LeadEntity } from '../store/entity/lead.entity';
import type { User } from './session-store';
import type { Sight } from './sight';

export type LeadRight = keyof LeadDetail['may'];

/** Whether a lead is in someone's sight: the same as the query of sight.ts. */
export function sees({ id, owner, queue, bayTeam }: LeadEntity, sight: Sight): boolean {
  if (sight.all) return true;
  return (
    (owner !== null && sight.owners.includes(owner)) ||
    (queue !== null && sight.queues.includes(queue)) ||
    (bayTeam !== null && sight.leads.includes(bayTeam)) ||
    sight.named.includes(id)
  );
}

/** What a user may do with a lead in sight. */
export function rightsOn(lead: LeadEntity, sight: Sight, user: User): LeadDetail['may'] {
  const open = lead.status === 'open';
  const own = lead.owner === user.key;
  const directs =
    user.role === 'admin' ||
    (user.role === 'manager' &&
      !sight.all &&
      (sight.owners.includes(lead.owner ?? '') || sight.leads.includes(lead.bayTeam ?? '')));
  const picks = !sight.all && lead.place === 'queue' && sight.queues.includes(lead.queue ?? '');
  return {
    edit: own || directs,
    // A manager gives on the leads of their own queues.
    assign: open && (directs || (picks && user.role === 'manager')),
    pickUp: open && picks,
    giveBack:
      open && lead.place === 'owner' && (lead.pickedFrom !== null || lead.acceptance === 'asked') && (own || directs),
    accept: open && own && lead.acceptance === 'asked',
    close: open && (own || directs),
    move: open && (own || directs),
    decide: open && (own || directs || (!sight.all && sight.asked.includes(lead.id))),
    join: open && (own || directs),
    remove: lead.test && (own || directs),
  };
}

/** Why someone can't be given a lead by hand; null: they can. */
export function ownerRefusal(
  person:
    | { readonly key: string; readonly name: string; readonly mayTakeLeads: boolean; readonly whyNot: string | null }
    | undefined,
  sight: Sight,
): string | null {
  if (person === undefined) return 'is nobody here';
  if (!sight.all && !sight.owners.includes(person.key)) return 'is not in your teams';
  if (!person.mayTakeLeads)
    return `${person.name} may not take leads${person.whyNot === null ? '' : `: ${person.whyNot}`}`;
  return null;
}
