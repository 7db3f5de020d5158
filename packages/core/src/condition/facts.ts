import type { Activity } from '../record/record';
import type { Computed } from '../record/field';
import type { Instant } from '../record/keys';
import type { Money } from '../record/money';
import { BLANK, type Value } from '../record/value';
import type { ScoreAxis } from './subject';

/** A record at one moment, as conditions read it. */
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
  /** The owner before the decision; null: none. */
  readonly owner: string | null;
  /** The teams of that owner. */
  readonly teams: readonly string[];
  /** When it entered the stage in which it is. */
  readonly stageSince: Instant;
  /** The score by one set; blank where the set does not admit the record, and before scores are known. */
  setScore(set: string, axis: ScoreAxis): Value;
  /** A computed value; blank before it is computed. */
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
  teams: [],
  stageSince: 0,
  setScore: () => BLANK,
  computed: () => BLANK,
};
