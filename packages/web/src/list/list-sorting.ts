import type { ListQuery } from '@relvik/contracts';

/** What a click on the head of a column changes in a list; null: it can't be ordered by it. */
export function sortingBy(column: string, { order }: ListQuery): Readonly<Record<string, string | null>> | null {
  if (column.startsWith('set:')) return { set: column.slice(4), order: null };
  switch (column) {
    case 'rank':
      return { set: null, order: null };
    case 'fit':
    case 'engagement':
      return { set: null, order: column };
    case 'arrived':
      return { order: order === 'newest' ? 'oldest' : 'newest' };
    default:
      return null;
  }
}

/** Whether a list is ordered by a column, and which way. */
export function sortedBy(column: string, { set, order = 'rank' }: ListQuery): 'ascending' | 'descending' | null {
  switch (order) {
    case 'newest':
      return column === 'arrived' ? 'descending' : null;
    case 'oldest':
      return column === 'arrived' ? 'ascending' : null;
    default:
      return column === (set === undefined ? order : `set:${set}`) ? 'descending' : null;
  }
}
