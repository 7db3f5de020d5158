import type { DataSource } from 'typeorm';
import { inTransaction } from '../store/transaction';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads } from '../store/load-leads';
import { type Case, decideLeads } from './decide-leads';

const BATCH = 500;

/**
 * Lets those leave the bay for whom someone is free now, by age, oldest first.
 *
 * Called whenever something changed that could free someone, and from time to time in case a server stopped in between.
 *
 * @param waiting `all` also looks at those that could not be judged: after a change of rates or of the charter
 * @returns how many left
 */
export async function freeBay(
  source: DataSource,
  now: Date,
  waiting: 'for-someone' | 'all' = 'for-someone',
): Promise<number> {
  let left = 0;
  let after = { since: new Date(0), id: 0 };
  for (;;) {
    const { batch, freed } = await inTransaction(source, async (manager) => {
      const some = await manager
        .createQueryBuilder(LeadEntity, 'lead')
        .select(['lead.id', 'lead.since'])
        .where({ place: 'bay', status: 'open' })
        .andWhere(waiting === 'all' ? 'TRUE' : "JSON_VALUE(lead.bay, '$.why') = 'nobody-free'")
        .andWhere('(lead.since > :since OR (lead.since = :since AND lead.id > :id))', after)
        .orderBy('lead.since')
        .addOrderBy('lead.id')
        .limit(BATCH)
        .getMany();
      const leads = new Map(
        (
          await loadLeads(
            manager,
            some.map((lead) => lead.id),
            'write',
          )
        ).map((lead) => [lead.entity.id, lead]),
      );
      const cases = some.flatMap(({ id }): Case[] => {
        const lead = leads.get(id);
        // Someone took it while we waited for the lock.
        if (lead === undefined || lead.entity.place !== 'bay' || lead.entity.status !== 'open') return [];
        return [
          {
            record: lead.record,
            stored: lead.entity,
            arrival: null,
            occasion: 'freed',
            asOf: now,
            by: 'Relvik',
            values: new Map(),
            valuesBefore: new Map(),
          },
        ];
      });
      const decisions = await decideLeads(manager, cases);
      return { batch: some, freed: decisions.filter((decision) => decision.place.kind !== 'bay').length };
    });
    left += freed;
    const last = batch.at(-1);
    if (last === undefined || batch.length < BATCH) return left;
    after = { since: last.since, id: last.id };
  }
}
