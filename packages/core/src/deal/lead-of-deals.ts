import type { Status } from '../record/record';

/**
 * The status that its deals give a lead: it is won by its first won deal, and lost when none is open and none was won.
 *
 * @returns null: its deals say nothing of it, since one of them is open, or it has none
 */
export function statusByDeals(deals: readonly Status[]): 'won' | 'lost' | null {
  if (deals.includes('won')) return 'won';
  return deals.length === 0 || deals.includes('open') ? null : 'lost';
}
