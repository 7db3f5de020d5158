import type { RepKey } from '../record/keys';
import type { Rep } from './people';

/** Why someone can't be given a lead. */
export type Exclusion =
  | { readonly why: 'may-not-take-leads' }
  | { readonly why: 'at-limit'; readonly open: number; readonly limit: number }
  | { readonly why: 'not-here' }
  /** What a rep is told of a colleague instead of the reason. */
  | { readonly why: 'not-available' };

/**
 * Whether a rep can be given one more lead.
 *
 * @param rep `undefined` when nobody of that key is here any more
 * @returns null when they can, else why not
 */
export function exclusionOf(rep: Rep | undefined, loads: ReadonlyMap<RepKey, number>): Exclusion | null {
  if (rep === undefined) return { why: 'not-here' };
  if (!rep.mayTakeLeads) return { why: 'may-not-take-leads' };
  const open = loads.get(rep.key) ?? 0;
  if (rep.limit !== null && open >= rep.limit) return { why: 'at-limit', open, limit: rep.limit };
  return null;
}
