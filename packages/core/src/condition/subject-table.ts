import type { Spot } from '../document/problem';
import { oneByKind, type Read } from '../document/read-json';
import { AMOUNT, ARRIVED, CURRENCY, DAYS_SINCE, FIELD, HAPPENED, LAST_ACTIVITY, WAY_IN } from './record-subjects';
import type { RulePlace, Scope } from './scope';
import {
  BAND,
  DAYS_IN_STAGE,
  HOURS_IN_STAGE,
  OWNER,
  SCORE,
  SET_SCORE,
  STAGE,
  TEAM,
  TERRITORY,
  VERDICT,
} from './standing-subjects';
import { BAND_AXES, SCORE_AXES, type Subject, type SubjectKind, type SubjectOf } from './subject';
import type { Holds, SubjectRow } from './subject-row';

/** One row for each kind of subject. */
export const SUBJECTS: { readonly [K in SubjectKind]: SubjectRow<SubjectOf<K>> } = {
  field: FIELD,
  currency: CURRENCY,
  amount: AMOUNT,
  'days-since': DAYS_SINCE,
  arrived: ARRIVED,
  'last-activity': LAST_ACTIVITY,
  happened: HAPPENED,
  'way-in': WAY_IN,
  score: SCORE,
  'set-score': SET_SCORE,
  band: BAND,
  verdict: VERDICT,
  stage: STAGE,
  'days-in-stage': DAYS_IN_STAGE,
  'hours-in-stage': HOURS_IN_STAGE,
  owner: OWNER,
  team: TEAM,
  territory: TERRITORY,
};

/** The row of a subject's kind. */
export function rowOf(subject: Subject): SubjectRow<Subject> {
  return SUBJECTS[subject.kind];
}

/** Under which key what is read for a subject is kept: that of a field, or of something computed. */
export function readKeyOf(subject: Subject): string {
  return rowOf(subject).reads(subject);
}

/** The subjects of a place in words: "the record’s own fields, fit, verdict". */
export function askableWords(place: RulePlace): string {
  return Object.values(SUBJECTS)
    .filter(({ places }) => places.includes(place))
    .map(({ words }) => words)
    .join(', ');
}

/** Reads a subject from JSON: its form only. */
export const readSubject: Read<Subject> = oneByKind<Subject>(
  'kind',
  Object.fromEntries(Object.entries(SUBJECTS).map(([kind, { read }]): [string, Read<Subject>] => [kind, read])),
);

/** The type of a subject in a scope; where it can't be asked about, says why and returns null. */
export function holdsOf(subject: Subject, scope: Scope, spot: Spot): Holds | null {
  const row = rowOf(subject);
  if (row.places.includes(scope.place)) return row.holds(subject, scope, spot);
  spot.say(`can’t be asked about here: ${row.words}; here one may ask about ${askableWords(scope.place)}`);
  return null;
}

/** All that can be asked about in a scope, in the order of the table. */
export function subjectsIn(scope: Scope): readonly Subject[] {
  return Object.values(SUBJECTS)
    .filter(({ places }) => places.includes(scope.place))
    .flatMap((row: SubjectRow<Subject>) => row.all(scope));
}

/** Subjects that FEEL, and what is kept of decisions, know by one name, such as `fit_band`. */
export const NAMED_SUBJECTS: ReadonlyMap<string, Subject> = new Map(
  (
    [
      ...SCORE_AXES.map((axis) => ({ kind: 'score', axis }) as const),
      ...BAND_AXES.map((axis) => ({ kind: 'band', axis }) as const),
      { kind: 'verdict' },
      { kind: 'stage' },
      { kind: 'territory' },
      { kind: 'arrived' },
      { kind: 'last-activity' },
      { kind: 'way-in' },
      { kind: 'days-in-stage' },
      { kind: 'hours-in-stage' },
      { kind: 'owner' },
      { kind: 'team' },
    ] satisfies readonly Subject[]
  ).map((subject): [string, Subject] => [rowOf(subject).reads(subject), subject]),
);
