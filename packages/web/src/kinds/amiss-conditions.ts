import type { Condition } from '@relvik/core';
import { DateTime } from 'luxon';
import type { DealFields } from './deal-columns';

/** After so many days without a call, mail, meeting or visit nothing happens with a deal. */
const QUIET = 30;

/** A condition on deals, under the words that a link says. */
export interface AmissCondition {
  readonly words: string;
  /** As JSON, as lists take it. */
  readonly when: string;
}

/**
 * Conditions on open deals with which something is amiss.
 *
 * @param today by which a deal should have been closed
 */
export function amissConditions({ amount, close }: DealFields, today: string): AmissCondition[] {
  const before = (subject: Extract<Condition, { test: 'range' }>['subject'], day: string): Condition => ({
    ...{ test: 'range', subject, from: null },
    to: { at: day, included: false },
  });
  const last = { kind: 'last-activity' } as const;
  const since = DateTime.fromISO(today).minus({ days: QUIET }).toISODate() ?? today;
  const some = (words: string, when: Condition): AmissCondition => ({ words, when: JSON.stringify(when) });
  return [
    ...(close === null ? [] : [some('overdue to close', before({ kind: 'field', field: close }, today))]),
    ...(amount === null
      ? []
      : [some('without an amount', { test: 'blank', subject: { kind: 'field', field: amount } })]),
    some(`nothing happened for ${QUIET} days`, {
      test: 'any',
      of: [{ test: 'blank', subject: last }, before(last, since)],
    }),
  ];
}
