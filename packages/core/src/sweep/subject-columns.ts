import type { ReadyBound, ReadyTest } from '../condition/ready';
import { textTest } from '../condition/judge';
import type { Happening } from '../activity/happened';
import type { DaySubject, Subject, SubjectKind, SubjectOf } from '../condition/subject';
import { dayNumber, startOfDay } from '../record/day';
import { fold } from '../record/fold';
import { type Bits, noBits } from '../column/bits';
import type { CodeColumn, Column, MoneyColumn, NumberColumn } from '../column/column';
import { NO_TEXT, YES_TEXT } from './encode';
import type { Mask } from '../column/mask';

/** Subjects that only the sweep itself can tell: they follow from scores, gates and territories. */
export const SWEPT_KINDS = [
  'score',
  'set-score',
  'band',
  'verdict',
  'stage',
  'days-in-stage',
  'hours-in-stage',
  'owner',
  'team',
  'territory',
] as const;
export type SweptKind = (typeof SWEPT_KINDS)[number];
export type SweptSubject = SubjectOf<SweptKind>;
type KnownKind = Exclude<SubjectKind, SweptKind>;

/** Where the columns of subjects come from. */
export interface ColumnSource {
  readonly everyone: Bits;
  readonly timeZone: string;
  /** The day of the sweep, in days since 1970-01-01. */
  readonly today: number;
  readonly way: CodeColumn;
  /** The column of a field; null: no record has a value. */
  column(field: string): Column | null;
  /** The amounts of a field in the base currency. */
  inBase(field: string, column: MoneyColumn): NumberColumn;
  /** The amounts of a field as they were entered, with four decimals. */
  asEntered(field: string, column: MoneyColumn): NumberColumn;
  /** Instants of arrivals, and of what they last did. */
  instants(of: 'arrived' | 'last-activity'): NumberColumn;
  /** How often something happened. */
  counted(happening: Happening): NumberColumn;
}

/** Days of all records, whatever they are kept as. */
interface Days {
  /** Records whose day lies from one up to but without another, both in days since 1970-01-01. */
  between(from: number, beyond: number): Mask;
  blanks(): Bits;
}

/** The values of a subject for all records. */
type Known =
  | Column
  | { readonly kind: 'days'; readonly days: Days }
  /** How many days ago each of these days was. */
  | { readonly kind: 'ago'; readonly days: Days };

function columnDays(column: Column | null): Days | null {
  if (column?.kind !== 'numbers') return null;
  return { between: (from, beyond) => between(column, from, beyond), blanks: () => column.blanks() };
}

function instantDays(column: NumberColumn, timeZone: string): Days {
  // A day begins at an instant; before the first and after the last there is no bound.
  const start = (day: number): number => (Number.isFinite(day) ? startOfDay(day, timeZone) : day);
  return {
    between: (from, beyond) => between(column, start(from), start(beyond)),
    blanks: () => column.blanks(),
  };
}

function daysOf(day: DaySubject, source: ColumnSource): Days | null {
  return day.kind === 'field'
    ? columnDays(source.column(day.field))
    : instantDays(source.instants(day.kind), source.timeZone);
}

const KNOWN: { readonly [K in KnownKind]: (subject: SubjectOf<K>, source: ColumnSource) => Known | null } = {
  field: ({ field }, source) => source.column(field),
  currency({ field }, source) {
    const column = source.column(field);
    return column?.kind === 'money' ? column.currencies : null;
  },
  amount({ field }, source) {
    const column = source.column(field);
    return column?.kind === 'money' ? source.asEntered(field, column) : null;
  },
  'days-since'({ day }, source) {
    const days = daysOf(day, source);
    return days && { kind: 'ago', days };
  },
  arrived(day, source) {
    const days = daysOf(day, source);
    return days && { kind: 'days', days };
  },
  'last-activity'(day, source) {
    const days = daysOf(day, source);
    return days && { kind: 'days', days };
  },
  happened: (subject, source) => source.counted(subject),
  'way-in': (_, source) => source.way,
};

export function isSwept(subject: Subject): subject is SweptSubject {
  return SWEPT_KINDS.some((kind) => kind === subject.kind);
}

/** The answer of a test for every record, by the column of its subject. */
export function answerFrom(test: ReadyTest & { readonly subject: SubjectOf<KnownKind> }, source: ColumnSource): Mask {
  const known = (KNOWN[test.subject.kind] as (subject: Subject, source: ColumnSource) => Known | null)(
    test.subject,
    source,
  );
  if (known === null) return { yes: test.kind === 'blank' ? source.everyone : none(source), unjudged: null };
  switch (known.kind) {
    case 'codes':
      return { yes: textsWhere(known, test), unjudged: test.kind === 'blank' ? null : known.unreadable };
    case 'numbers':
      return numbersWhere(known, test);
    case 'money':
      return test.kind === 'money-in' && test.subject.kind === 'field'
        ? between(source.inBase(test.subject.field, known), least(test.from), beyond(test.to))
        : { yes: known.currencies.blanks(), unjudged: null };
    case 'days':
      return test.kind === 'day-in'
        ? known.days.between(least(dayEnd(test.from)), beyond(dayEnd(test.to)))
        : { yes: known.days.blanks(), unjudged: null };
    case 'ago': {
      if (test.kind !== 'number-in') return { yes: known.days.blanks(), unjudged: null };
      const day = (end: ReadyBound<number> | null) => end && { ...end, at: source.today - end.at };
      // The more days ago, the smaller the day.
      return known.days.between(least(day(test.to)), beyond(day(test.from)));
    }
  }
}

function dayEnd(end: ReadyBound<string> | null): ReadyBound<number> | null {
  return end && { ...end, at: dayNumber(end.at) };
}

function none({ everyone }: ColumnSource): Bits {
  return noBits(everyone.length * 32);
}

function textsWhere(codes: CodeColumn, test: ReadyTest): Bits {
  switch (test.kind) {
    case 'blank':
      return codes.blanks();
    case 'yes-no':
      return codes.whereOneOf([test.yes ? YES_TEXT : NO_TEXT]);
    case 'text-in':
      // Currencies stand in capital letters.
      return test.subject.kind === 'currency'
        ? codes.where((code) => test.folded.has(fold(code)))
        : codes.whereOneOf(test.folded);
    default:
      return codes.where(textTest(test));
  }
}

function numbersWhere(column: NumberColumn, test: ReadyTest): Mask {
  switch (test.kind) {
    case 'number-in':
      return between(column, least(test.from), beyond(test.to));
    case 'day-in':
      return between(column, least(dayEnd(test.from)), beyond(dayEnd(test.to)));
    default:
      return { yes: column.blanks(), unjudged: null };
  }
}

function between(amounts: NumberColumn, from: number, to: number): Mask {
  return { yes: amounts.between(from, to), unjudged: amounts.unreadable };
}

/** The smallest whole number that belongs to a range. */
function least(from: ReadyBound<number> | null): number {
  if (from === null) return -Infinity;
  return from.included ? from.at : from.at + 1;
}

/** The smallest whole number beyond a range. */
function beyond(to: ReadyBound<number> | null): number {
  if (to === null) return Infinity;
  return to.included ? to.at + 1 : to.at;
}
