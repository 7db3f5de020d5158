import type { ReadyBound, ReadyTest } from '../condition/ready';
import { passesText } from '../condition/judge';
import type { Subject, SubjectKind, SubjectOf } from '../condition/subject';
import { dayNumber } from '../record/day';
import { fold } from '../record/fold';
import { type Bits, noBits } from './bits';
import type { CodeColumn, Column, MoneyColumn, NumberColumn } from './column';
import { NO_TEXT, YES_TEXT } from './encode';
import type { Mask } from './mask';

/** Subjects that only the sweep itself can tell: they follow from scores, gates and territories. */
export const SWEPT_KINDS = ['score', 'band', 'verdict', 'stage', 'territory'] as const;
export type SweptKind = (typeof SWEPT_KINDS)[number];
export type SweptSubject = SubjectOf<SweptKind>;
type KnownKind = Exclude<SubjectKind, SweptKind>;

/** Where the columns of subjects come from. */
export interface ColumnSource {
  readonly everyone: Bits;
  /** The day of the sweep, in days since 1970-01-01. */
  readonly today: number;
  /** The column of a field; null: no record has a value. */
  column(field: string): Column | null;
  /** The amounts of a field in the base currency. */
  inBase(field: string, column: MoneyColumn): NumberColumn;
}

/** What is known of a subject for all records. */
type Known =
  | Column
  /** How many days ago each of these days was. */
  | { readonly kind: 'ago'; readonly days: NumberColumn; readonly today: number };

const KNOWN: { readonly [K in KnownKind]: (subject: SubjectOf<K>, source: ColumnSource) => Known | null } = {
  field: ({ field }, source) => source.column(field),
  currency({ field }, source) {
    const column = source.column(field);
    return column?.kind === 'money' ? column.currencies : null;
  },
  'days-since'({ day }, { column, today }) {
    const days = column(day.field);
    return days?.kind === 'numbers' ? { kind: 'ago', days, today } : null;
  },
};

export function isSwept(subject: Subject): subject is SweptSubject {
  return SWEPT_KINDS.some((kind) => kind === subject.kind);
}

/** What a test says of every record, by the column of its subject. */
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
    case 'ago': {
      const { days, today } = known;
      if (test.kind !== 'number-in') return { yes: days.blanks(), unjudged: null };
      const day = (end: ReadyBound<number> | null) => end && { ...end, at: today - end.at };
      // The more days ago, the smaller the day.
      return between(days, least(day(test.to)), beyond(day(test.from)));
    }
  }
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
      return codes.where((folded) => passesText(test, folded));
  }
}

function numbersWhere(column: NumberColumn, test: ReadyTest): Mask {
  switch (test.kind) {
    case 'number-in':
      return between(column, least(test.from), beyond(test.to));
    case 'day-in': {
      const day = (end: ReadyBound<string> | null) => end && { ...end, at: dayNumber(end.at) };
      return between(column, least(day(test.from)), beyond(day(test.to)));
    }
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
