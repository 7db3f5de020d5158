import type { Subject, SubjectKind, SubjectOf } from '../condition/subject';
import { COUNTRY_BY_FOLDED_NAME, countryName } from '../record/country';
import type { Field } from '../record/field';
import { fold } from '../record/fold';
import type { Names } from './names';

/** The names, and what else the words of a condition need. */
export interface Wording {
  readonly names: Names;
  readonly fields: ReadonlyMap<string, Field>;
  readonly baseCurrency: string;
}

/** Digits in groups of three, as people read them: 399000 NOK is 399,000 NOK. Other text stays as it is. */
export function groupDigits(number: string): string {
  return number.replace(/^(-?\d+)/, (whole) => whole.replace(/\B(?=(\d{3})+$)/g, ','));
}

/** How one kind of subject is put into words. */
interface SubjectWords<S extends Subject> {
  /** What it is called. */
  name(subject: S, wording: Wording): string;
  /** What is added to the name where it stands beside others: ": currency". */
  readonly aspect: string;
  /** A value of it as people know it: a country by name, a verdict by the name the admin gave. */
  value(subject: S, value: string, wording: Wording): string;
  /** The field or computed thing that is read for it. */
  read(subject: S): Subject;
  /** What stands before values that it is: "is", "is in". */
  readonly is: string;
  /** What stands after a range. */
  unit(subject: S, wording: Wording): string;
}

function fieldValue(key: string, value: string, { fields }: Wording): string {
  switch (fields.get(key)?.type) {
    case 'country':
      return countryName(COUNTRY_BY_FOLDED_NAME.get(fold(value)) ?? value);
    case 'number':
    case 'money':
      return groupDigits(value);
    default:
      return value;
  }
}

const COMPUTED = {
  aspect: '',
  value: (_: Subject, value: string) => value,
  read: (subject: Subject) => subject,
  is: 'is',
  unit: () => '',
};

const WORDS: { readonly [K in SubjectKind]: SubjectWords<SubjectOf<K>> } = {
  field: {
    ...COMPUTED,
    name: ({ field }, { names }) => names.field(field),
    value: ({ field }, value, wording) => fieldValue(field, value, wording),
    unit: ({ field }, { fields, baseCurrency }) => (fields.get(field)?.type === 'money' ? ` ${baseCurrency}` : ''),
  },
  currency: {
    ...COMPUTED,
    name: ({ field }, { names }) => names.field(field),
    read: ({ field }) => ({ kind: 'field', field }),
    is: 'is in',
    aspect: ': currency',
  },
  'days-since': {
    ...COMPUTED,
    name: ({ day }, { names }) => names.field(day.field),
    read: ({ day }) => day,
    unit: () => ' days ago',
    aspect: ': days ago',
  },
  score: { ...COMPUTED, name: ({ axis }, { names }) => names.field(axis) },
  band: { ...COMPUTED, name: ({ axis }, { names }) => names.field(`${axis}_band`) },
  verdict: {
    ...COMPUTED,
    name: (_, { names }) => names.field('verdict'),
    value: (_, value, { names }) => names.verdict(value),
  },
  stage: {
    ...COMPUTED,
    name: (_, { names }) => names.field('stage'),
    value: (_, value, { names }) => names.stage(value),
  },
  territory: {
    ...COMPUTED,
    name: (_, { names }) => names.field('territory'),
    value: (_, value, { names }) => names.territory(value),
  },
};

function wordsOf(subject: Subject): SubjectWords<Subject> {
  return WORDS[subject.kind];
}

/** What a subject is called: "Industry", "Fit band". */
export function subjectName(subject: Subject, wording: Wording): string {
  return wordsOf(subject).name(subject, wording);
}

/** What a subject is called where it stands beside others: "Deal value: currency". */
export function subjectLabel(subject: Subject, wording: Wording): string {
  return `${subjectName(subject, wording)}${wordsOf(subject).aspect}`;
}

/** A value of a subject as people know it. */
export function valueWords(subject: Subject, value: string, wording: Wording): string {
  return wordsOf(subject).value(subject, value, wording);
}

/** What was read for a subject, as people know it: the whole amount where its currency was asked about. */
export function readValueWords(subject: Subject, read: string, wording: Wording): string {
  return valueWords(wordsOf(subject).read(subject), read, wording);
}

/** What stands before the values that a subject is. */
export function isWords(subject: Subject): string {
  return wordsOf(subject).is;
}

/** What stands after a range of a subject: the base currency, or "days ago". */
export function unitWords(subject: Subject, wording: Wording): string {
  return wordsOf(subject).unit(subject, wording);
}
