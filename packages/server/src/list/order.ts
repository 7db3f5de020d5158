import type { ListOrder } from '@relvik/contracts';
import type { ObjectLiteral, SelectQueryBuilder } from 'typeorm';
import { Refused } from '../problem/refused';
import type { ListKind } from './list-kinds';
import { NO_RANK } from '../store/entity/scored.entity';

/** Where a page ended. */
export type Mark = readonly [stands: number, id: number];

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

/** A row's place in an order: without a score it stands after all that have one. */
export function markOf(stands: number | Date | null, id: number): Mark {
  return [stands instanceof Date ? stands.getTime() : (stands ?? NO_RANK), id];
}

/** By what a list is ordered. */
interface Ordering {
  readonly column: 'rankOrder' | 'fit' | 'engagement' | 'arrived';
  readonly way: 'ASC' | 'DESC';
  /** The ending of the names of the indexes that stand behind it. */
  readonly index: string;
}

export const ORDERINGS: { readonly [O in ListOrder]: Ordering } = {
  rank: { column: 'rankOrder', way: 'DESC', index: 'by_rank' },
  fit: { column: 'fit', way: 'DESC', index: 'by_fit' },
  engagement: { column: 'engagement', way: 'DESC', index: 'by_engagement' },
  newest: { column: 'arrived', way: 'DESC', index: 'by_arrival' },
  oldest: { column: 'arrived', way: 'ASC', index: 'by_arrival' },
};

/** The table with the ranking scores: the record itself (`r`), or the scores that a set gives beside. */
export type Ranks = 'r' | 'side';

/** Whose scores rank a list. */
export function ranksOf({
  set,
  order = 'rank',
}: {
  set?: string | undefined;
  order?: ListOrder | undefined;
}): readonly Ranks[] {
  return set === undefined || ORDERINGS[order].column === 'arrived' ? ['r'] : ['r', 'side'];
}

/** Below zero: the first stands before the second. */
export function beforeOrAfter(order: ListOrder, [a, i]: Mark, [b, j]: Mark): number {
  return ORDERINGS[order].way === 'DESC' ? b - a || j - i : a - b || i - j;
}

/** Goes on after a row. Who has no score comes last, newest first; nothing is equal to null in SQL. */
export function goOn<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  { here, id, way }: { readonly here: string; readonly id: string; readonly way: Ordering['way'] },
  [stands, last]: Mark,
): void {
  const past = way === 'DESC' ? '<' : '>';
  const mayBeNull = here.endsWith('.fit') || here.endsWith('.engagement');
  if (mayBeNull && stands === NO_RANK) {
    // Nothing is below: said so that MariaDB sees a range with a beginning, not all that have no score.
    query.andWhere(`(${here} < :at OR (${here} IS NULL AND ${id} < :last))`, { at: NO_RANK, last });
    return;
  }
  const at = here.endsWith('.arrived') ? new Date(stands) : stands;
  const unscored = mayBeNull ? ` OR ${here} IS NULL` : '';
  query.andWhere(`(${here} ${past} :at OR (${here} = :at AND ${id} ${past} :last)${unscored})`, { at, last });
}

/**
 * A statement over records held to the index of its order, and to those that narrow it. MariaDB takes half a million rows
 * behind a mark for dearer than the whole table, and would walk the order from its top to the mark.
 */
export function heldTo({ kind, narrowing }: ListKind, order: ListOrder, ranks: Ranks, sql: string): string {
  const { index } = ORDERINGS[order];
  const [from, indexes] =
    ranks === 'r'
      ? [`FROM \`${kind}\` \`r\``, [`${kind}_${index}`, ...narrowing]]
      : ['FROM `side_score` `side`', [`side_score_${index}`]];
  if (!sql.includes(from)) throw new Error(`No statement over ${kind}s`);
  return sql.replace(from, `${from} FORCE INDEX (PRIMARY, ${indexes.join(', ')})`);
}
