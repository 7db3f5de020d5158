import {
  NAMED_SUBJECTS,
  type Holds,
  holdsOf,
  readKeyOf,
  type Scope,
  Spot,
  type Subject,
  type SubjectKind,
  type SubjectOf,
} from '@relvik/core';
import { happeningFeel } from './happening-feel';

/** How one kind of subject stands in an expression. */
interface SubjectFeel<S extends Subject> {
  write(subject: S): string;
}

const NAMED = { write: (subject: Subject): string => readKeyOf(subject) };

const SUBJECT_FEEL: { readonly [K in SubjectKind]: SubjectFeel<SubjectOf<K>> } = {
  field: NAMED,
  currency: { write: ({ field }) => `${field}.currency` },
  amount: { write: ({ field }) => `${field}.amount` },
  'days-since': { write: ({ day }) => `(today() - ${readKeyOf(day)})` },
  arrived: NAMED,
  'last-activity': NAMED,
  happened: { write: happeningFeel },
  'way-in': NAMED,
  score: NAMED,
  'set-score': { write: ({ set, axis }) => `score(${JSON.stringify(set)}, ${JSON.stringify(axis)})` },
  band: NAMED,
  verdict: NAMED,
  stage: NAMED,
  'days-in-stage': NAMED,
  'hours-in-stage': NAMED,
  owner: NAMED,
  team: NAMED,
  territory: NAMED,
};

/** A subject as FEEL writes it. */
export function subjectFeel(subject: Subject): string {
  return (SUBJECT_FEEL[subject.kind] as SubjectFeel<Subject>).write(subject);
}

/** The type of a subject in a scope; null: it can't be asked about there. */
export function heldIn(scope: Scope, subject: Subject): Holds | null {
  return holdsOf(subject, scope, Spot.root([]));
}

/** The subject of a name: a field of the record, or something computed that can be asked about in a scope; null: none. */
export function subjectNamed(name: string, scope: Scope): Subject | null {
  if (scope.fields.has(name)) return { kind: 'field', field: name };
  const named = NAMED_SUBJECTS.get(name);
  return named !== undefined && heldIn(scope, named) !== null ? named : null;
}
