import type { Bound, Condition, Field, FieldTest, FieldType } from '@relvik/core';

/** A question as the builder offers it: a test, or its opposite. */
export interface TestKind {
  readonly test: FieldTest['test'];
  readonly label: string;
  readonly opposite: string;
}

/** Stands where a value will be typed: a test must have one. */
export const NO_VALUE = '…';

const KINDS: { readonly [T in FieldTest['test']]: TestKind } = {
  is: { test: 'is', label: 'is', opposite: 'is not' },
  'one-of': { test: 'one-of', label: 'is one of', opposite: 'is none of' },
  inside: { test: 'inside', label: 'lies in', opposite: 'does not lie in' },
  contains: { test: 'contains', label: 'contains', opposite: 'does not contain' },
  'starts-with': { test: 'starts-with', label: 'starts with', opposite: 'does not start with' },
  'ends-with': { test: 'ends-with', label: 'ends with', opposite: 'does not end with' },
  range: { test: 'range', label: 'is in', opposite: 'is not in' },
  'days-ago': { test: 'days-ago', label: 'is so many days ago', opposite: 'is not so many days ago' },
  blank: { test: 'blank', label: 'is blank', opposite: 'is filled' },
  currency: { test: 'currency', label: 'is in the currency', opposite: 'is not in the currency' },
};

const FITTING: { readonly [T in FieldType]: readonly FieldTest['test'][] } = {
  text: ['one-of', 'contains', 'starts-with', 'ends-with', 'blank'],
  email: ['ends-with', 'contains', 'starts-with', 'one-of', 'blank'],
  choice: ['one-of', 'contains', 'blank'],
  country: ['one-of', 'blank'],
  'yes-no': ['is', 'blank'],
  number: ['range', 'is', 'blank'],
  money: ['range', 'currency', 'blank'],
  date: ['range', 'days-ago', 'is', 'blank'],
};

/** The questions that suit a field, the most usual first. */
export function kindsFor(field: Field): readonly TestKind[] {
  const fitting = field.key === 'territory' ? (['one-of', 'inside', 'blank'] as const) : FITTING[field.type];
  return fitting.map((test) => KINDS[test]);
}

/** A question about a field as it stands when it is added: it asks nothing yet that could be wrong. */
export function freshTest(field: Field, kind: FieldTest['test'] = kindsFor(field)[0]?.test ?? 'blank'): FieldTest {
  const { key } = field;
  const end: Bound = { at: field.type === 'date' ? new Date().toISOString().slice(0, 10) : '0', included: true };
  const first = field.options[0] ?? (field.type === 'country' ? 'Norway' : NO_VALUE);
  switch (kind) {
    case 'is':
      return {
        test: kind,
        field: key,
        value: field.type === 'yes-no' ? 'yes' : field.type === 'number' ? '0' : end.at,
      };
    case 'one-of':
    case 'inside':
    case 'contains':
    case 'starts-with':
    case 'ends-with':
      return { test: kind, field: key, values: [first] };
    case 'range':
      return { test: kind, field: key, from: end, to: null };
    case 'days-ago':
      return { test: kind, field: key, from: { at: '0', included: true }, to: { at: '30', included: true } };
    case 'blank':
      return { test: kind, field: key };
    case 'currency':
      return { test: kind, field: key, values: ['EUR'] };
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

/** Pasted text as values: one a line, or between tabs or semicolons, without blanks and repetitions. */
export function pastedValues(text: string): string[] {
  return [...new Set(text.split(/[\n\r\t;]+/).map((value) => value.trim()))].filter(Boolean);
}
