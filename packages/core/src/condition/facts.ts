import type { Activity } from '../record/record';
import type { Computed } from '../record/field';
import type { Instant } from '../record/keys';
import type { Money } from '../record/money';
import { BLANK, type Value } from '../record/value';
import type { ScoreAxis } from './subject';

/** What conditions can ask of a record at one moment. */
export interface Facts {
  /** The value under a field's key; a field that was never filled is blank. */
  value(field: string): Value;
  /** An amount in the base currency's smallest unit; `null` without a rate. */
  inBase(amount: Money): number | null;
  /** The moment of the decision. */
  readonly asOf: Instant;
  readonly timeZone: string;
  /** The day of the decision, in days since 1970-01-01. */
  today(): number;
  readonly arrived: Instant;
  readonly activities: readonly Activity[];
  /** When they last did something; null: never. */
  lastActivity(): Instant | null;
  readonly way: string | null;
  /** Who owned it before the decision; null: nobody. */
  readonly owner: string | null;
  /** When it entered the stage in which it is. */
  readonly stageSince: Instant;
  /** What one score set gives; blank where it gives nothing, and before scores are known. */
  setScore(set: string, axis: ScoreAxis): Value;
  /** What the way of the record has computed so far; blank before it. */
  computed(key: Computed): Value;
}

/** The facts of a record of which nothing is known. */
export const NO_FACTS: Facts = {
  value: () => BLANK,
  inBase: () => null,
  asOf: 0,
  timeZone: 'UTC',
  today: () => 0,
  arrived: 0,
  activities: [],
  lastActivity: () => null,
  way: null,
  owner: null,
  stageSince: 0,
  setScore: () => BLANK,
  computed: () => BLANK,
};
