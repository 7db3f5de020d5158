import { fold } from '../record/fold';
import type { Activity } from '../record/record';
import { hasPart, type TextPart } from '../record/text-part';

export const PROPERTY_TESTS = ['is', 'contains', 'starts-with', 'ends-with'] as const;

/** A question about one property of an activity: one of the values is it, or is part of it. */
export interface PropertyTest {
  readonly property: string;
  readonly test: 'is' | TextPart;
  readonly values: readonly string[];
}

/** The most values that one test may name. */
export const MAX_PROPERTY_VALUES = 200;

/**
 * Whether an activity's properties say all that is asked. Texts compare folded; a property that it lacks says nothing.
 */
export function hasProperties(activity: Pick<Activity, 'properties'>, having: readonly PropertyTest[]): boolean {
  return having.every(({ property, test, values }) => {
    const { properties } = activity;
    if (properties === undefined || !Object.hasOwn(properties, property)) return false;
    const text = fold(properties[property] ?? '');
    if (text === '') return false;
    const folded = values.map(fold);
    return test === 'is' ? folded.includes(text) : hasPart({ part: test, folded }, text);
  });
}

/** The activities that a signal asks about, as a text that tells them apart from all others: a kind, and what is asked of it. */
export function happeningKey(kind: string, having: readonly PropertyTest[]): string {
  return having.length === 0
    ? kind
    : `${kind} ${JSON.stringify(having.map(({ property, test, values }) => [property, test, values]))}`;
}

/** Whether a {@link happeningKey} is that of a kind, whatever its properties: all of the kind stand under it. */
export function isKindAlone(key: string): boolean {
  return !key.includes(' ');
}
