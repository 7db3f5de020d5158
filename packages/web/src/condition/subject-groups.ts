import { type Scope, type Subject, type SubjectKind, subjectLabel, subjectsIn, type Wording } from '@relvik/core';

/** Subjects as they are offered, under a heading. */
export interface SubjectGroup {
  readonly label: string;
  readonly items: readonly { readonly value: string; readonly label: string }[];
}

const HEADINGS = ['Values', 'What happened', 'Score and grade', 'Where it stands'] as const;
type Heading = (typeof HEADINGS)[number];

const HEADING: { readonly [K in SubjectKind]: Heading } = {
  field: 'Values',
  currency: 'Values',
  amount: 'Values',
  'days-since': 'Values',
  happened: 'What happened',
  'last-activity': 'What happened',
  score: 'Score and grade',
  'set-score': 'Score and grade',
  band: 'Score and grade',
  verdict: 'Score and grade',
  stage: 'Where it stands',
  'days-in-stage': 'Where it stands',
  'hours-in-stage': 'Where it stands',
  owner: 'Where it stands',
  team: 'Where it stands',
  territory: 'Where it stands',
  arrived: 'Where it stands',
  'way-in': 'Where it stands',
};

/** How long ago a day was stands beside the day. */
function headingOf(subject: Subject): Heading {
  return HEADING[subject.kind === 'days-since' ? subject.day.kind : subject.kind];
}

/** All that can be asked about in a scope, under headings; each as it is written in a list. */
export function subjectGroups(scope: Scope, wording: Wording): SubjectGroup[] {
  const subjects = subjectsIn(scope);
  return HEADINGS.flatMap((label) => {
    const items = subjects
      .filter((subject) => headingOf(subject) === label)
      .map((subject) => ({ value: JSON.stringify(subject), label: subjectLabel(subject, wording) }));
    return items.length === 0 ? [] : [{ label, items }];
  });
}
