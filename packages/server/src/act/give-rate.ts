import type { NewRate } from '@relvik/contracts';
import { parseScaled, UNROUTED_KINDS } from '@relvik/core';
import { type DataSource, type EntityManager, MoreThan } from 'typeorm';
import { Refused } from '../problem/refused';
import { RateEntity } from '../store/entity/catalogue.entity';
import { readFields, readRates } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { freeBay } from './free-bay';

/**
 * Keeps a new rate, or puts a known one right. Open leads with amounts that it converts are due: the background decides them
 * again; who waited for it leaves the bay at once.
 *
 * @returns how many leads are due
 * @throws Refused for the reference currency itself; for a new rate of a day that has one; for a correction of one that is not there
 */
export async function giveRate(
  source: DataSource,
  { currency, from, rate }: NewRate,
  as: 'new' | 'correction',
  now: Date,
): Promise<number> {
  const micro = parseScaled(rate, 6);
  if (!micro.ok) throw Refused.invalid([{ path: '/rate', message: micro.why }]);
  const due = await inTransaction(source, async (manager) => {
    const { reference } = await readRates(manager);
    if (currency === reference)
      throw Refused.invalid([{ path: '/currency', message: `is the currency in which rates are given: ${reference}` }]);
    const known = await manager.findOneBy(RateEntity, { currency, fromDay: from });
    if (as === 'new' && known !== null)
      throw Refused.invalid([{ path: '/from', message: `has a rate of ${currency} already: correct that one` }]);
    if (as === 'correction' && known === null) throw Refused.notFound();
    const row = { currency, fromDay: from, micro: String(micro.scaled) };
    await (known === null
      ? manager.insert(RateEntity, row)
      : manager.update(RateEntity, { currency, fromDay: from }, row));
    return makeDue(manager, currency, from, now);
  });
  await freeBay(source, now, 'all');
  return due;
}

/**
 * Amounts in the currency; where it is some charter's base, all amounts that are not. Only those entered on the rate's day or
 * after it, and before the day of the next rate, are converted by it.
 */
async function makeDue(manager: EntityManager, currency: string, from: string, now: Date): Promise<number> {
  const money = [...(await readFields(manager)).values()].flatMap(({ key, type }) => (type === 'money' ? [key] : []));
  if (money.length === 0) return 0;
  const [isBase] = await manager.query<unknown[]>(
    "SELECT 1 FROM charter WHERE number IS NOT NULL AND JSON_VALUE(body, '$.baseCurrency') = ? LIMIT 1",
    [currency],
  );
  const next = await manager.findOne(RateEntity, {
    where: { currency, fromDay: MoreThan(from) },
    order: { fromDay: 'ASC' },
  });
  const until = next?.fromDay ?? '9999-12-31';
  const concerned = (
    record: string,
  ): string => `EXISTS (SELECT 1 FROM field_value v WHERE v.record IN (${record}) AND v.field IN (?) AND v.day >= ?
    AND v.day < ? AND v.currency ${isBase === undefined ? '=' : '<>'} ?)`;
  const { affectedRows } = await manager.query<{ affectedRows: number }>(
    `UPDATE \`lead\` l SET changes_at = ? WHERE status = 'open' AND ${concerned('l.id, l.contact, l.company_id')}`,
    [now, money, from, until, currency],
  );
  for (const kind of UNROUTED_KINDS)
    await manager.query(
      `UPDATE ${kind} r SET due = ?, touched = 1, changes = changes + 1 WHERE ${concerned(kind === 'deal' ? 'r.id, r.contact, r.company' : 'r.id')}`,
      [now, money, from, until, currency],
    );
  return affectedRows;
}
