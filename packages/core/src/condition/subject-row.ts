import type { Spot } from '../document/problem';
import type { Read } from '../document/read-json';
import { type Field, type FieldType, NUMBER_DECIMALS } from '../record/field';
import { fold } from '../record/fold';
import { BLANK, type Value } from '../record/value';
import type { Facts } from './facts';
import type { RulePlace, Scope } from './scope';

export type HeldType = FieldType | 'currency';

/** The type and options of a subject: they decide which predicates suit it. */
export interface Holds extends Pick<Field, 'spellings' | 'ownRegions'> {
  /** Its name in messages. */
  readonly key: string;
  readonly type: HeldType;
  /** For a choice, and for choices: what it can be. */
  readonly options: readonly string[];
  /** Options that records may still have, though they are no longer offered. */
  readonly retired: readonly string[];
  /** Whether it may be something else than its options. */
  readonly open: boolean;
  /** Of numbers: how many decimals its values and the ends of its ranges have. */
  readonly decimals: number;
}

/** All that is known of one kind of subject. */
export interface SubjectRow<S> {
  /** Its name in messages: "the record’s own fields". */
  readonly words: string;
  /** Where conditions may ask about it. */
  readonly places: readonly RulePlace[];
  /** Reads one from JSON: its form. */
  readonly read: Read<S>;
  /** Its type in a scope; where it can't be asked about, says why and returns null. */
  holds(subject: S, scope: Scope, spot: Spot): Holds | null;
  /** The value of one record. */
  value(subject: S, facts: Facts): Value;
  /** Under which what was read is kept with a decision: a field, or something computed. */
  reads(subject: S): string;
  /** The value shown beside the answer. */
  shown(subject: S, facts: Facts): Value;
  /** All subjects of the kind that can be asked about in a scope. */
  all(scope: Scope): readonly S[];
}

export const EVERYWHERE: readonly RulePlace[] = ['signal', 'gate', 'route', 'list'];
export const AFTER_SCORES: readonly RulePlace[] = ['gate', 'route', 'list'];
export const AFTER_GATES: readonly RulePlace[] = ['route', 'list'];

/** @param decimals of numbers */
export function holding(
  name: string,
  type: HeldType,
  options: readonly string[] = [],
  decimals = NUMBER_DECIMALS,
): Holds {
  return { key: name, type, options, retired: [], open: false, decimals };
}

/** A text as a value; null is blank. */
export function textValue(text: string | null): Value {
  return text === null ? BLANK : { kind: 'text', text, folded: fold(text) };
}
