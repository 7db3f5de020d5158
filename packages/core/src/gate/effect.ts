import type { Facts } from '../condition/facts';
import { choicesOf, withChoices } from '../record/choices';
import { dayOf } from '../record/day';
import { type Field, kindOfField, roleOf, TAGS } from '../record/field';
import type { Day } from '../record/keys';
import { sameValue } from '../record/join';
import { readValue, type Value } from '../record/value';

/** A change that a gate makes to the leads it moves. */
export type GateEffect =
  /** Gives a field a value, written as it is typed; '' empties it. */
  | { readonly kind: 'set'; readonly field: string; readonly value: string }
  /** Adds a tag. */
  | { readonly kind: 'tag'; readonly tag: string };

/** An effect with its value read. */
export type ReadyEffect =
  { readonly kind: 'set'; readonly field: string; readonly value: Value } | Extract<GateEffect, { kind: 'tag' }>;

/** A value that a lead has from passing a gate. */
export interface GateChange {
  readonly field: string;
  readonly value: Value;
  /** The last gate that changed it. */
  readonly gate: string;
}

/** The field that an effect changes. */
export function fieldOf(effect: GateEffect | ReadyEffect): string {
  return effect.kind === 'set' ? effect.field : TAGS;
}

/**
 * Why a gate may not set a field; null: it may. A gate sets plain fields of leads: not those that tell who a lead is, that its
 * contact or company takes over, or by which territories are found.
 *
 * @param territoryField by which territories are found
 */
export function settingProblem(field: Field, territoryField: string): string | null {
  if (kindOfField(field.key) !== 'lead') return 'belongs to the contact or company: a gate sets fields of the lead';
  if (field.key === TAGS) return 'holds tags: a gate adds one by an effect of its own';
  if (roleOf(field) !== null) return 'tells who the lead is: no gate may set it';
  if (field.feeds != null) return 'is taken over by the contact or company: no gate may set it';
  return field.key === territoryField ? 'tells the territory: no gate may set it' : null;
}

/** Stands for the day of the move until a lead moves. */
const SOME_DAY: Day = '1970-01-01';

/** Reads the value that a gate sets. Options that are no longer offered stay possible; an amount gets its day when a lead moves. */
export function readSetValue(field: Field, typed: string): Value {
  const { options, retiredOptions = [] } = field;
  return readValue({ ...field, options: [...options, ...retiredOptions] }, typed, SOME_DAY);
}

/**
 * The value of a field after an effect.
 *
 * @param day of the move: an amount is entered on it
 */
export function valueAfter(effect: ReadyEffect, before: Value, day: Day): Value {
  if (effect.kind === 'set') {
    const { value } = effect;
    return value.kind === 'money' ? { ...value, enteredOn: day } : value;
  }
  switch (before.kind) {
    case 'choices':
      return { kind: 'choices', ...withChoices(before.texts, [effect.tag]) };
    // Tags that can't be read are left for a person to correct.
    case 'unreadable':
      return before;
    default:
      return { kind: 'choices', ...choicesOf([effect.tag]) };
  }
}

/**
 * The changes made to a lead so far, with those of one more gate.
 *
 * @param changes by the gates before it
 * @param own the facts without any of these
 */
export function changesAfter(
  { key: gate, effects }: { readonly key: string; readonly effects: readonly ReadyEffect[] },
  changes: readonly GateChange[],
  own: Facts,
): readonly GateChange[] {
  const day = dayOf(own.asOf, own.timeZone);
  const byField = new Map(changes.map((change) => [change.field, change]));
  for (const effect of effects) {
    const field = fieldOf(effect);
    const before = byField.get(field)?.value ?? own.value(field);
    byField.set(field, { field, gate, value: valueAfter(effect, before, day) });
  }
  return [...byField.values()];
}

/** The changes that leave another value than the lead had. */
export function realChanges(changes: readonly GateChange[], own: Facts): readonly GateChange[] {
  return changes.filter(({ field, value }) => !sameValue(own.value(field), value));
}
