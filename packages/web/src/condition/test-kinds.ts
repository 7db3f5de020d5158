import {
  type Bound,
  type Condition,
  type HeldType,
  holdsOf,
  type Predicate,
  type PredicateKind,
  type Scope,
  Spot,
  type Subject,
  suiting,
  type Test,
} from '@relvik/core';

/** A question as the builder offers it: a predicate, or its opposite. */
export interface TestKind {
  readonly test: PredicateKind;
  readonly label: string;
  readonly opposite: string;
}

/** Stands where a value will be typed: a test must have one. */
export const NO_VALUE = '…';

const KINDS: { readonly [T in PredicateKind]: TestKind } = {
  'one-of': { test: 'one-of', label: 'is one of', opposite: 'is none of' },
  inside: { test: 'inside', label: 'lies in', opposite: 'does not lie in' },
  'any-of': { test: 'any-of', label: 'includes any of', opposite: 'includes none of' },
  'all-of': { test: 'all-of', label: 'includes all of', opposite: 'does not include all of' },
  contains: { test: 'contains', label: 'contains', opposite: 'does not contain' },
  'starts-with': { test: 'starts-with', label: 'starts with', opposite: 'does not start with' },
  'ends-with': { test: 'ends-with', label: 'ends with', opposite: 'does not end with' },
  range: { test: 'range', label: 'is in', opposite: 'is not in' },
  blank: { test: 'blank', label: 'is blank', opposite: 'is filled' },
};
/** Of a number, a day, and yes or no there is one value. */
const IS: TestKind = { test: 'one-of', label: 'is', opposite: 'is not' };

/** Of these a test names one value, typed or chosen. */
export function takesOneValue(type: HeldType): boolean {
  return type === 'yes-no' || type === 'number' || type === 'date';
}

/** The questions that suit a subject, the most usual first. */
export function kindsFor(subject: Subject, scope: Scope): readonly TestKind[] {
  const holds = holdsOf(subject, scope, Spot.root([]));
  if (holds === null) return [];
  return suiting(subject, holds).map((test) => (test === 'one-of' && takesOneValue(holds.type) ? IS : KINDS[test]));
}

/** A question about a subject as it stands when it is added: it asks nothing yet that could be wrong. */
export function freshTest(subject: Subject, scope: Scope, kind = kindsFor(subject, scope)[0]?.test ?? 'blank'): Test {
  const holds = holdsOf(subject, scope, Spot.root([]));
  return { subject, ...freshPredicate(kind, holds?.type ?? 'text', holds?.options ?? [], subject) };
}

function freshPredicate(kind: PredicateKind, type: HeldType, options: readonly string[], subject: Subject): Predicate {
  const end: Bound = { at: type === 'date' ? new Date().toISOString().slice(0, 10) : '0', included: true };
  switch (kind) {
    case 'one-of':
      return { test: kind, values: [firstValue(type, options, end)] };
    case 'inside':
    case 'any-of':
    case 'all-of':
    case 'contains':
    case 'starts-with':
    case 'ends-with':
      return { test: kind, values: [options[0] ?? NO_VALUE] };
    case 'range':
      switch (subject.kind) {
        case 'days-since':
          return { test: kind, from: end, to: { at: '30', included: true } };
        case 'happened':
        case 'days-in-stage':
        case 'hours-in-stage':
          return { test: kind, from: { at: '1', included: true }, to: null };
        default:
          return { test: kind, from: end, to: null };
      }
    case 'blank':
      return { test: kind };
  }
}

function firstValue(type: HeldType, options: readonly string[], end: Bound): string {
  switch (type) {
    case 'yes-no':
      return 'yes';
    case 'number':
    case 'date':
      return end.at;
    case 'currency':
      return 'EUR';
    case 'country':
      return 'Norway';
    case 'region':
      return 'US-CA';
    default:
      return options[0] ?? NO_VALUE;
  }
}

/** A part of a condition without the `not` around it, and whether there was one. */
export function unwrapped(condition: Condition): {
  readonly inner: Exclude<Condition, { test: 'not' }>;
  readonly negated: boolean;
} {
  if (condition.test !== 'not') return { inner: condition, negated: false };
  const { inner, negated } = unwrapped(condition.of);
  return { inner, negated: !negated };
}

export function wrapped(inner: Condition, negated: boolean): Condition {
  return negated ? { test: 'not', of: inner } : inner;
}
