import type { LeadOrder } from '@relvik/contracts';
import type { SelectQueryBuilder } from 'typeorm';
import { Refused } from '../api/refused';
import type { LeadEntity } from './lead.entity';
import { NO_RANK } from './scored.entity';

/** Where a page ended. */
export type Mark = readonly [order: number, id: number];

/** A mark as pages pass it on. */
export function markText(mark: Mark): string {
  return Buffer.from(JSON.stringify(mark)).toString('base64url');
}

export function readMark(after: string): Mark {
  try {
    const mark: unknown = JSON.parse(Buffer.from(after, 'base64url').toString());
    if (Array.isArray(mark) && mark.length === 2 && mark.every((part) => typeof part === 'number'))
      return mark as unknown as Mark;
  } catch {
    // Falls through to the refusal.
  }
  throw Refused.invalid([{ path: '/after', message: 'is not where a page ended' }]);
}

/** By what a list is ordered: an index stands behind each. */
interface Ordering {
  readonly column: 'rankOrder' | 'fit' | 'engagement' | 'arrived';
  readonly way: 'ASC' | 'DESC';
  readonly index: string;
}

export const ORDERINGS: { readonly [O in LeadOrder]: Ordering } = {
  rank: { column: 'rankOrder', way: 'DESC', index: 'lead_by_rank' },
  fit: { column: 'fit', way: 'DESC', index: 'lead_by_fit' },
  engagement: { column: 'engagement', way: 'DESC', index: 'lead_by_engagement' },
  newest: { column: 'arrived', way: 'DESC', index: 'lead_by_arrival' },
  oldest: { column: 'arrived', way: 'ASC', index: 'lead_by_arrival' },
};

/** A lead's place in an order as a number: without a score it stands after all that have one. */
export function orderOf(lead: Pick<LeadEntity, Ordering['column']>, { column }: Ordering): number {
  const value = lead[column];
  return value instanceof Date ? value.getTime() : (value ?? NO_RANK);
}

/** Goes on after a row. Who has no score comes last, newest first; nothing is equal to null in SQL. */
export function goOn(query: SelectQueryBuilder<LeadEntity>, { column, way }: Ordering, [value, id]: Mark): void {
  const past = way === 'DESC' ? '<' : '>';
  const here = `lead.${column}`;
  if ((column === 'fit' || column === 'engagement') && value === NO_RANK) {
    // Nothing is below: said so that MariaDB sees a range with a beginning, not all that have no score.
    query.andWhere(`(${here} < :at OR (${here} IS NULL AND lead.id < :id))`, { at: NO_RANK, id });
    return;
  }
  const at = column === 'arrived' ? new Date(value) : value;
  const unscored = column === 'fit' || column === 'engagement' ? ` OR ${here} IS NULL` : '';
  query.andWhere(`(${here} ${past} :at OR (${here} = :at AND lead.id ${past} :id)${unscored})`, { at, id });
}

/** What narrows a list better than its order does. */
const NARROWING = ['owner', 'queue', 'stage', 'territory', 'grade', 'place', 'words', 'email'];

/**
 * A statement over `lead` held to the index of its order, and to those that narrow it. MariaDB takes half a million rows
 * behind a mark for dearer than the whole table, and would walk the order from its top to the mark.
 */
export function heldTo({ index }: Ordering, sql: string): string {
  const from = 'FROM `lead` `lead`';
  if (!sql.includes(from)) throw new Error('No statement over leads');
  return sql.replace(from, `${from} FORCE INDEX (PRIMARY, ${index}, ${NARROWING.map((by) => `lead_by_${by}`).join()})`);
}
