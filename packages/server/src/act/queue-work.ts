import type { QueueKey, RepKey } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { sightOf } from '../session/sight';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity, QueueEntity, RepLoadEntity } from '../store/entity/people.entity';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { OutOfDate } from '../store/rows';
import { routeWithoutOwner } from './acceptance';
import { moved } from './act';
import { act } from './acting';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { type Acting, perform } from './perform';

/** How many of the next leads are tried, while others are at them. */
const LOOKED_AT = 50;

/** Takes a lead out of a queue. Of two at the same moment exactly one gets it. */
export function pickUpLead(source: DataSource, id: number, hand: Hand): Promise<void> {
  return byHand(source, id, 'pickUp', hand, (acting, { lead }) => pickUp(acting, lead, hand));
}

/**
 * Takes the next lead out of a queue, in the order of the queue. Two at the same moment get two leads.
 *
 * @returns its id
 * @throws Refused `not-found` for a queue that is not the user’s, `queue-empty` where nothing waits
 */
export function pickNext(source: DataSource, queue: string, hand: Hand): Promise<number> {
  return act(source, hand.at, async (acting) => {
    const { manager } = acting;
    const found = await manager.findOneBy(QueueEntity, { key: queue });
    const sight = await sightOf(manager, hand.user);
    if (found === null || sight.all || !sight.queues.includes(queue)) throw Refused.notFound();
    const order = found.order === 'rank' ? 'rank_order DESC, id' : 'since, id';
    const lead = await lockNext(manager, queue, order);
    await pickUp(acting, lead, hand);
    return lead.entity.id;
  });
}

/** The first lead of a queue that nobody else takes at this moment, locked. A query that sorts would lock all that it reads. */
async function lockNext(manager: EntityManager, queue: string, order: string): Promise<StoredLead> {
  const first = await manager.query<{ id: number }[]>(
    `SELECT id FROM \`lead\` WHERE place = 'queue' AND status = 'open' AND queue = ? ORDER BY ${order} LIMIT ${LOOKED_AT}`,
    [queue],
  );
  if (first.length === 0) throw Refused.as('queue-empty');
  for (const { id } of first) {
    const mine = await manager.query<unknown[]>(
      "SELECT id FROM `lead` WHERE id = ? AND queue = ? AND status = 'open' FOR UPDATE SKIP LOCKED",
      [id, queue],
    );
    if (mine.length === 0) continue;
    const [lead] = await loadLeads(manager, [id], 'write');
    if (lead !== undefined) return lead;
  }
  throw new OutOfDate();
}

async function pickUp(acting: Acting, lead: StoredLead, hand: Hand): Promise<void> {
  const { manager } = acting;
  const rep = hand.user.key as RepKey;
  const from = lead.entity.queue as QueueKey | null;
  await perform(acting, [moved(lead, { place: { kind: 'owner', rep }, from }, handOf(hand.user), hand.at)]);
  // Their load is locked by now: whoever picks up at the same moment waits, and is counted.
  await refuseTooMany(manager, rep, from);
}

/** @throws Refused where someone owns more leads than their limit, or holds more of a queue than one may */
async function refuseTooMany(manager: EntityManager, rep: RepKey, from: QueueKey | null): Promise<void> {
  const person = await manager.findOneBy(PersonEntity, { key: rep });
  if (person?.mayTakeLeads !== true)
    throw Refused.as('may-not-take', person?.whyNot ? { detail: `${person.whyNot}.` } : {});
  const load = await manager.findOneBy(RepLoadEntity, { rep });
  if (person.takes !== null && (load?.open ?? 0) > person.takes)
    throw Refused.as('at-limit', { detail: `You have ${person.takes} open leads, and that is your limit.` });
  const queue = from === null ? null : await manager.findOneBy(QueueEntity, { key: from });
  if (queue === null || queue.mostHeld === null) return;
  const [held] = await manager.query<{ n: string }[]>(
    "SELECT COUNT(*) AS n FROM `lead` WHERE owner = ? AND status = 'open' AND picked_from = ? LOCK IN SHARE MODE",
    [rep, from],
  );
  if (Number(held?.n ?? 0) > queue.mostHeld)
    throw Refused.as('holds-most', {
      detail: `Of ${queue.name} one may hold ${queue.mostHeld} at a time. Close one, or give one back.`,
    });
}

/** Gives a lead back with a reason: to the queue from which its owner picked it up, or to the routes where the owner was asked to accept it. */
export function giveBack(source: DataSource, id: number, reason: string, hand: Hand): Promise<void> {
  return byHand(source, id, 'giveBack', hand, async (acting, { lead }) => {
    if (lead.entity.acceptance === 'asked') return routeWithoutOwner(acting, lead, reason, hand);
    const queue = lead.entity.pickedFrom as QueueKey;
    if (!(await acting.manager.existsBy(QueueEntity, { key: queue }))) throw Refused.as('queue-gone');
    const change = { place: { kind: 'queue', queue }, reason, effects: [{ kind: 'tell-queue', queue }] } as const;
    await perform(acting, [moved(lead, change, handOf(hand.user), hand.at)]);
  });
}

/** How many open leads of each queue someone holds. */
export async function heldBy(manager: EntityManager, rep: string): Promise<ReadonlyMap<string, number>> {
  const rows = await manager
    .createQueryBuilder(LeadEntity, 'lead')
    .select('lead.pickedFrom', 'queue')
    .addSelect('COUNT(*)', 'count')
    .where({ owner: rep, status: 'open' })
    .andWhere('lead.pickedFrom IS NOT NULL')
    .groupBy('lead.pickedFrom')
    .getRawMany<{ queue: string; count: string }>();
  return new Map(rows.map(({ queue, count }) => [queue, Number(count)]));
}
