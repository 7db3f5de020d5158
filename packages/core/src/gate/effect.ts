import type { Facts } from '../condition/facts';
import type { DealRule } from '../deal/deal-rule';
import { choicesOf, withChoices } from '../record/choices';
import { dayOf } from '../record/day';
import { type Field, kindOfField, roleOf, tagsOf } from '../record/field';
import type { Day } from '../record/keys';
import type { PipelineKind, RecordKind } from '../record/kind';
import { sameValue } from '../record/join';
import { readValue, type Value } from '../record/value';
import type { TaskRule } from '../task/task';

/** A change that a gate makes to the values of the records it moves. */
export type ValueEffect =
  /** Gives a field a value, written as it is typed; '' empties it. */
  | { readonly kind: 'set'; readonly field: string; readonly value: string }
  /** Adds a tag. */
  | { readonly kind: 'tag'; readonly tag: string };

/** An effect of passing a gate. */
export type GateEffect =
  | ValueEffect
  /** Makes a task for the owner. */
  | ({ readonly kind: 'task' } & TaskRule)
  /** Makes a deal of a lead that has no open one. */
  | ({ readonly kind: 'deal' } & DealRule);

/** An effect with its value read, and the field that it changes. */
export type ReadyEffect = { readonly field: string } & (
  { readonly kind: 'set'; readonly value: Value } | { readonly kind: 'tag'; readonly tag: string }
);

/** A value that a record has from passing a gate. */
export interface GateChange {
  readonly field: string;
  readonly value: Value;
  /** The last gate that changed it. */
  readonly gate: string;
}

/** Whether an effect changes values of the record itself. */
export function isOfValues(effect: GateEffect): effect is ValueEffect {
  return effect.kind === 'set' || effect.kind === 'tag';
}

/** The field that an effect changes on records of a kind. */
export function fieldOf(effect: ValueEffect, kind: RecordKind): string {
  return effect.kind === 'set' ? effect.field : tagsOf(kind);
}

/**
 * Why a gate may not set a field; null: it may. A gate sets plain fields of the records it moves: not those that tell who a lead is
 * or what a deal is worth, that a contact or company takes over, or by which territories are found.
 *
 * @param kind of the records that the gate moves
 * @param address the fields by which territories are found
 */
export function settingProblem(field: Field, kind: PipelineKind, address: readonly (string | null)[]): string | null {
  const of = kindOfField(field.key);
  if (of !== kind) return `belongs to the ${of}: a gate sets fields of the ${kind}`;
  if (field.key === tagsOf(kind)) return 'holds tags: a gate adds one by an effect of its own';
  if (roleOf(field) !== null) return `has a role of its own in every ${kind}: no gate may set it`;
  if (field.feeds != null) return 'is taken over by the contact or company: no gate may set it';
  return address.includes(field.key) ? 'tells the territory: no gate may set it' : null;
}

/** Stands for the day of the move until a record moves. */
const SOME_DAY: Day = '1970-01-01';

/** Reads the value that a gate sets. Options that are no longer offered stay possible; an amount gets its day when a record moves. */
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
 * The changes made to a record so far, with those of one more gate.
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
    const { field } = effect;
    const before = byField.get(field)?.value ?? own.value(field);
    byField.set(field, { field, gate, value: valueAfter(effect, before, day) });
  }
  return [...byField.values()];
}

/** The changes that leave another value than the record had. */
export function realChanges(changes: readonly GateChange[], own: Facts): readonly GateChange[] {
  return changes.filter(({ field, value }) => !sameValue(own.value(field), value));
}
