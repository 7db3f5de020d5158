import type { Computed } from '../record/field';
import type { Money } from '../record/money';
import type { Value } from '../record/value';

/** What conditions can ask of a record at one moment. */
export interface Facts {
  /** The value under a field's key; a field that was never filled is blank. */
  value(field: string): Value;
  /** An amount in the base currency's smallest unit; `null` without a rate. */
  inBase(amount: Money): number | null;
  /** The day of the decision, in days since 1970-01-01. */
  today(): number;
  /** What the way of the record has computed so far; blank before it. */
  computed(key: Computed): Value;
}
