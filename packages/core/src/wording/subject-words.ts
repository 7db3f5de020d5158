import type { PropertyTest } from '../activity/property-test';
import type { Bound } from '../condition/predicate';
import type { DaySubject, Subject, SubjectKind, SubjectOf } from '../condition/subject';
import { countryCode, countryName } from '../record/country';
import { regionName } from '../record/region';
import type { Field } from '../record/field';
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
  /** Its name. */
  name(subject: S, wording: Wording): string;
  /** Added to the name in a list of subjects: ": currency". */
  readonly aspect: string;
  /** A value of it as people know it: a country by name, a verdict by the name the admin gave. */
  value(subject: S, value: string, wording: Wording): string;
  /** The field or computed thing that is read for it. */
  read(subject: S): Subject;
  /** The verb before its values: "is", "is in". */
  readonly is: string;
  /** The unit after a range. */
  unit(subject: S, wording: Wording): string;
  /** A range that has words of its own; null: it is said as it is. */
  readonly range?: (from: Bound | null, to: Bound | null) => string | null;
}

/** A value of a field as people know it: a country by name, digits in groups. */
export function fieldValueWords(key: string, value: string, { fields }: Wording): string {
  const field = fields.get(key);
  switch (field?.type) {
    case 'country':
      return countryName(countryCode(value, field.spellings) ?? value);
    case 'region':
      return regionName(value, field.ownRegions);
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

function dayName(day: DaySubject, { names }: Wording): string {
  switch (day.kind) {
    case 'field':
      return names.field(day.field);
    case 'arrived':
      return names.field('arrived');
    case 'last-activity':
      return names.field('last_activity');
  }
}

/** "day" or "30 days": what stands after "in the last". */
export function daysWords(count: number): string {
  return count === 1 ? 'day' : `${count} days`;
}

/** A property test in words: "page is “/pricing”". */
export function propertyWords({ property, test, values }: PropertyTest): string {
  const asked = { is: 'is', contains: 'contains', 'starts-with': 'starts with', 'ends-with': 'ends with' }[test];
  return `${property.replaceAll('_', ' ')} ${asked} ${values.map((value) => `“${value}”`).join(' or ')}`;
}

/** How often: at least once, and never, have words of their own. */
function timesWords(from: Bound | null, to: Bound | null): string | null {
  const least = from === null ? 0 : Number(from.at) + (from.included ? 0 : 1);
  const most = to === null ? Infinity : Number(to.at) - (to.included ? 0 : 1);
  if (least === 1 && most === Infinity) return 'at least once';
  return least === 0 && most === 0 ? 'never' : null;
}

/** Ways in as people know them. */
export const WAY_NAMES: ReadonlyMap<string, string> = new Map([
  ['form', 'Hosted form'],
  ['api', 'Other system'],
  ['csv', 'CSV file'],
  ['hand', 'By hand'],
]);

const WORDS: { readonly [K in SubjectKind]: SubjectWords<SubjectOf<K>> } = {
  field: {
    ...COMPUTED,
    name: ({ field }, { names }) => names.field(field),
    value: ({ field }, value, wording) => fieldValueWords(field, value, wording),
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
    name: ({ day }, wording) => dayName(day, wording),
    read: ({ day }) => day,
    unit: () => ' days ago',
    aspect: ': days ago',
  },
  amount: {
    ...COMPUTED,
    name: ({ field }, { names }) => `${names.field(field)} as entered`,
    read: ({ field }) => ({ kind: 'field', field }),
  },
  arrived: { ...COMPUTED, name: dayName },
  'last-activity': { ...COMPUTED, name: dayName },
  happened: {
    ...COMPUTED,
    name: ({ activity, having, within }, { names }) =>
      [
        names.activity(activity),
        ...having.map((one) => `, ${propertyWords(one)},`),
        ...(within === null ? [] : [` in the last ${daysWords(within)}`]),
      ].join(''),
    unit: () => ' times',
    aspect: ': how often',
    range: timesWords,
  },
  'way-in': {
    ...COMPUTED,
    name: (_, { names }) => names.field('way_in'),
    value: (_, value) => WAY_NAMES.get(value) ?? value,
  },
  'days-in-stage': {
    ...COMPUTED,
    name: (_, { names }) => names.field('days_in_stage'),
  },
  'hours-in-stage': {
    ...COMPUTED,
    name: (_, { names }) => names.field('hours_in_stage'),
  },
  owner: {
    ...COMPUTED,
    name: (_, { names }) => names.field('owner'),
    value: (_, value, { names }) => names.rep(value),
  },
  team: {
    ...COMPUTED,
    name: (_, { names }) => names.field('team'),
    value: (_, value, { names }) => names.team(value),
  },
  score: { ...COMPUTED, name: ({ axis }, { names }) => names.field(axis) },
  'set-score': {
    ...COMPUTED,
    name: ({ set, axis }, { names }) => `${names.field(axis)} by ${names.set(set)}`,
  },
  band: {
    ...COMPUTED,
    name: ({ axis }, { names }) => names.field(`${axis}_band`),
    value: ({ axis }, value, { names }) => (axis === 'fit' ? names.fitBand(value) : names.engagementBand(value)),
  },
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

/** The name of a subject: "Industry", "Fit band". */
export function subjectName(subject: Subject, wording: Wording): string {
  return wordsOf(subject).name(subject, wording);
}

/** The name of a subject in a list of subjects: "Deal value: currency". */
export function subjectLabel(subject: Subject, wording: Wording): string {
  return `${subjectName(subject, wording)}${wordsOf(subject).aspect}`;
}

/** A value of a subject as people know it. */
export function valueWords(subject: Subject, value: string, wording: Wording): string {
  return wordsOf(subject).value(subject, value, wording);
}

/** The value that was read for a subject, in words: the whole amount where its currency was asked about. */
export function readValueWords(subject: Subject, read: string, wording: Wording): string {
  return valueWords(wordsOf(subject).read(subject), read, wording);
}

/** The verb before the values of a subject: "is", "is in". */
export function isWords(subject: Subject): string {
  return wordsOf(subject).is;
}

/** A range of a subject in words of its own; null: it is said as it is. */
export function ownRangeWords(subject: Subject, from: Bound | null, to: Bound | null): string | null {
  return wordsOf(subject).range?.(from, to) ?? null;
}

/** The unit after a range of a subject: the base currency, or "days ago". */
export function unitWords(subject: Subject, wording: Wording): string {
  return wordsOf(subject).unit(subject, wording);
}
