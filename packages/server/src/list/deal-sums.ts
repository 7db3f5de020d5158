import type { DealSums, RecordQuery, StageSum } from '@relvik/contracts';
import { dayOf, keyOfRole } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { recordsInSight, type Sight } from '../session/sight';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { readGoverning } from '../store/governing';
import { askedOf, filtered, scoredBy } from './filter';
import { LIST_KINDS } from './list-kinds';
import { over } from './page';

/** Deals of one stage whose amounts were entered in one currency on one day; one rate converts them all. */
interface Group {
  readonly stage: string;
  readonly kind: string | null;
  readonly currency: string | null;
  readonly day: string | null;
  readonly count: string;
  readonly sum: string | null;
  readonly overdue: string;
}

/**
 * Counts and sums of the deals of a list, by stage. Amounts that were entered in one currency on one day are added up before they are
 * converted, so that a sum may differ from that of converted amounts by half the smallest unit for each such day.
 */
export async function dealSums(manager: EntityManager, sight: Sight, by: RecordQuery, now: Date): Promise<DealSums> {
  const { world, ready } = await readGoverning(manager, 'none');
  const list = LIST_KINDS.deal;
  const base = ready.charter.baseCurrency;
  const asked = await askedOf(manager, list, by, now);
  const query = filtered(recordsInSight(over(manager, list), 'deal', sight), list, by, asked);
  scoredBy(query, by);
  const groups = await query
    .leftJoin(FieldValueEntity, 'amount', 'amount.record = r.id AND amount.field = :amountField', {
      amountField: keyOfRole(world.fields, 'deal', 'amount') ?? '',
    })
    .leftJoin(FieldValueEntity, 'close', 'close.record = r.id AND close.field = :closeField', {
      closeField: keyOfRole(world.fields, 'deal', 'close') ?? '',
    })
    .select('r.stage', 'stage')
    .addSelect('amount.kind', 'kind')
    .addSelect('amount.currency', 'currency')
    .addSelect('amount.day', 'day')
    .addSelect('COUNT(*)', 'count')
    .addSelect('SUM(amount.number)', 'sum')
    .addSelect("SUM(CASE WHEN r.status = 'open' AND close.day < :today THEN 1 ELSE 0 END)", 'overdue')
    .setParameter('today', dayOf(now.getTime(), ready.charter.timeZone))
    .groupBy('r.stage')
    .addGroupBy('amount.kind')
    .addGroupBy('amount.currency')
    .addGroupBy('amount.day')
    .getRawMany<Group>();
  const stages = new Map<string, StageSum>();
  for (const { stage, kind, currency, day, ...own } of groups) {
    const known = stages.get(stage) ?? { stage, count: 0, sum: 0, withoutAmount: 0, withoutRate: 0, overdue: 0 };
    const count = Number(own.count);
    const isMoney = kind === 'money' && currency !== null && day !== null;
    const worth = isMoney ? world.rates.toBase({ minor: Number(own.sum), currency, enteredOn: day }, base) : null;
    stages.set(stage, {
      stage,
      count: known.count + count,
      sum: known.sum + (worth ?? 0),
      withoutAmount: known.withoutAmount + (isMoney ? 0 : count),
      withoutRate: known.withoutRate + (isMoney && worth === null ? count : 0),
      overdue: known.overdue + Number(own.overdue),
    });
  }
  return { stages: [...stages.values()], currency: base };
}
