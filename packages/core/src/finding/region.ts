import { choicesOf, splitChoices } from '../record/choices';
import { fold } from '../record/fold';
import { passesText, within } from '../condition/judge';
import type { ReadyBound, ReadyTest } from '../condition/ready';
import type { Holds } from '../condition/subject-row';
import { dayFrom, dayNumber } from '../record/day';
import { showScaled } from '../record/scaled';

/**
 * Values of a subject that all tests on it answer alike. A span is of whole numbers: scaled numbers, smallest units, or days
 * since 1970-01-01; both ends belong to it.
 */
export type Region =
  | { readonly kind: 'blank' }
  | { readonly kind: 'span'; readonly first: number; readonly last: number }
  | { readonly kind: 'text'; readonly folded: string }
  /** A text that no test names, and what those that ask for parts say of it. */
  | { readonly kind: 'other'; readonly parts: ReadonlyMap<ReadyTest, boolean> };

/** Texts may have so many parts in any combination; with more, nothing is said. */
const MOST_PARTS = 6;

function spanOf(
  test: ReadyTest,
): { readonly from: ReadyBound<number> | null; readonly to: ReadyBound<number> | null } | null {
  switch (test.kind) {
    case 'number-in':
    case 'money-in':
      return test;
    case 'day-in': {
      const day = (end: ReadyBound<string> | null) => end && { ...end, at: dayNumber(end.at) };
      return { from: day(test.from), to: day(test.to) };
    }
    default:
      return null;
  }
}

/** Whether a test holds for all values of a region of its subject. */
export function holdsIn(test: ReadyTest, region: Region): boolean {
  switch (region.kind) {
    case 'blank':
      return test.kind === 'blank';
    case 'span': {
      const span = spanOf(test);
      return span !== null && within(region.first, span.from, span.to);
    }
    case 'text':
      return test.kind === 'yes-no' ? (region.folded === 'yes') === test.yes : passesText(test, region.folded);
    case 'other':
      return region.parts.get(test) ?? false;
  }
}

/**
 * Splits what a subject holds into regions by the tests on it; together they are all values that it can have.
 *
 * @returns null where there would be too many
 */
export function regionsOf(holds: Holds, tests: readonly ReadyTest[]): readonly Region[] | null {
  const blank: Region[] = holds.type === 'currency' ? [] : [{ kind: 'blank' }];
  switch (holds.type) {
    case 'number':
    case 'money':
    case 'date':
      return [...blank, ...spans(tests)];
    case 'yes-no':
      return [...blank, { kind: 'text', folded: 'yes' }, { kind: 'text', folded: 'no' }];
    case 'choices': {
      const combinations = combinationsOf(holds, tests);
      return combinations && [...blank, ...combinations];
    }
    case 'choice':
      // All that it can be is known.
      return [...blank, ...holds.options.map((option): Region => ({ kind: 'text', folded: fold(option) }))];
    default: {
      const others = otherTexts(tests);
      return others && [...blank, ...namedTexts(tests), ...others];
    }
  }
}

/** Each cut between a number that passes some test and the next that does not begins another span. */
function spans(tests: readonly ReadyTest[]): Region[] {
  const starts = new Set<number>();
  for (const test of tests) {
    const span = spanOf(test);
    if (span?.from) starts.add(span.from.included ? span.from.at : span.from.at + 1);
    if (span?.to) starts.add(span.to.included ? span.to.at + 1 : span.to.at);
  }
  const sorted = [-Infinity, ...[...starts].sort((a, b) => a - b), Infinity];
  return sorted.slice(0, -1).map((first, i) => ({ kind: 'span', first, last: (sorted[i + 1] as number) - 1 }));
}

function namedTexts(tests: readonly ReadyTest[]): Region[] {
  const named = new Set(tests.flatMap((test) => (test.kind === 'text-in' ? [...test.folded] : [])));
  return [...named].map((folded) => ({ kind: 'text', folded }));
}

/** Each combination of the options that tests name, and one of an option that no test names. */
function combinationsOf(holds: Holds, tests: readonly ReadyTest[]): Region[] | null {
  const named = [
    ...new Set(tests.flatMap((test) => (test.kind === 'any-of' || test.kind === 'all-of' ? [...test.folded] : []))),
  ];
  if (named.length > MOST_PARTS) return null;
  const combination = (options: readonly string[]): Region => ({ kind: 'text', folded: choicesOf(options).folded });
  const some = Array.from({ length: 2 ** named.length - 1 }, (_, mask) =>
    combination(named.filter((_, i) => (((mask + 1) >> i) & 1) === 1)),
  );
  const other = holds.options.find((option) => !named.includes(fold(option))) ?? (holds.open ? '…' : undefined);
  return other === undefined ? some : [...some, combination([other])];
}

/** Parts may stand in a text in any combination. */
function otherTexts(tests: readonly ReadyTest[]): Region[] | null {
  const asked = tests.filter((test) => test.kind === 'text-part');
  if (asked.length > MOST_PARTS) return null;
  return Array.from({ length: 2 ** asked.length }, (_, mask) => ({
    kind: 'other',
    parts: new Map(asked.map((test, i) => [test, ((mask >> i) & 1) === 1])),
  }));
}

/** A value of a region as it is typed; null: none is known. */
export function valueIn(region: Region, holds: Holds, baseDecimals: number): string | null {
  switch (region.kind) {
    case 'blank':
      return '';
    case 'text': {
      const spelled = (folded: string): string => holds.options.find((option) => fold(option) === folded) ?? folded;
      return holds.type === 'choices' ? splitChoices(region.folded).map(spelled).join('; ') : spelled(region.folded);
    }
    case 'other':
      return null;
    case 'span': {
      const at = Number.isFinite(region.first) ? region.first : Number.isFinite(region.last) ? region.last : 0;
      return writtenAt(at, holds, baseDecimals);
    }
  }
}

/** A whole number of a span as people write it. */
export function writtenAt(at: number, holds: Holds, baseDecimals: number): string {
  if (holds.type === 'date') return dayFrom(at);
  return showScaled(at, holds.type === 'money' ? baseDecimals : holds.decimals);
}
