import { VERDICT_KEYS } from '../grade/verdict';
import type { Spot } from '../document/problem';
import { object, oneByKind, oneOf, type Read, text } from '../document/read-json';
import { dayNumber } from '../record/day';
import { type Computed, type Field, type FieldType, NUMBER_DECIMALS } from '../record/field';
import { fold } from '../record/fold';
import type { Value } from '../record/value';
import type { Facts } from './facts';
import { fieldScope, type RulePlace, type Scope } from './scope';
import { BAND_AXES, type FieldSubject, SCORE_AXES, type Subject, type SubjectKind, type SubjectOf } from './subject';

export type HeldType = FieldType | 'currency';

/** What a subject holds: it decides which predicates suit it. */
export interface Holds {
  /** What it is called in messages, and in FEEL where it has a name there. */
  readonly key: string;
  readonly type: HeldType;
  /** For a choice: what it can be. */
  readonly options: readonly string[];
  /** Of numbers: how many decimals its values and the ends of its ranges have. */
  readonly decimals: number;
}

/** All that is known of one kind of subject. */
export interface SubjectRow<S extends Subject> {
  /** What it is, in words: "the record’s own fields". */
  readonly words: string;
  /** Where conditions may ask about it. */
  readonly places: readonly RulePlace[];
  /** Reads one from JSON: its form. */
  readonly read: Read<S>;
  /** What it holds; where it can't be asked about, that is said, and null comes back. */
  holds(subject: S, scope: Scope, spot: Spot): Holds | null;
  /** The value of one record. */
  value(subject: S, facts: Facts): Value;
  /** Under which what was read is kept with a decision: a field, or something computed. */
  reads(subject: S): string;
  /** What was read, as it is shown beside the answer. */
  shown(subject: S, facts: Facts): Value;
  /** All subjects of the kind that can be asked about in a scope. */
  all(scope: Scope): readonly S[];
}

const EVERYWHERE: readonly RulePlace[] = ['signal', 'gate', 'route', 'list'];
const AFTER_SCORES: readonly RulePlace[] = ['gate', 'route', 'list'];
const AFTER_GATES: readonly RulePlace[] = ['route', 'list'];

function holding(name: string, type: HeldType, options: readonly string[] = [], decimals = NUMBER_DECIMALS): Holds {
  return { key: name, type, options, decimals };
}

/** The field that a subject names; says so where there is none, or one of another type. */
function fieldAt(name: string, scope: Scope, spot: Spot, type: FieldType | null = null): Field | null {
  const found = scope.fields.get(name);
  if (found === undefined) {
    spot.say(`no such field: ${name}; here one may ask about ${askableWords(scope.place)}`);
    return null;
  }
  if (found.retired) spot.say(`is retired: ${name}`);
  if (type !== null && found.type !== type) {
    spot.say(`holds ${found.type}, not ${type}: ${name}`);
    return null;
  }
  return found;
}

const ofField = (type: FieldType | null) => (scope: Scope) =>
  [...scope.fields.values()].filter((field) => !field.retired && (type === null || field.type === type));

/** Something that the way of a record computes, under one key. */
function computedRow<S extends Subject>(
  words: string,
  places: readonly RulePlace[],
  read: Read<S>,
  keyOf: (subject: S) => Computed,
  holds: (subject: S, scope: Scope) => Holds,
  all: readonly S[],
): SubjectRow<S> {
  return {
    words,
    places,
    read,
    holds,
    value: (subject, facts) => facts.computed(keyOf(subject)),
    reads: keyOf,
    shown: (subject, facts) => facts.computed(keyOf(subject)),
    all: () => all,
  };
}

const readField = object<FieldSubject>({ kind: oneOf(['field']), field: text() });

const FIELD: SubjectRow<FieldSubject> = {
  words: 'the record’s own fields',
  places: EVERYWHERE,
  read: readField,
  holds(subject, scope, spot) {
    const found = fieldAt(subject.field, scope, spot.at('field'));
    return found && holding(found.key, found.type, found.options);
  },
  value: ({ field }, facts) => facts.value(field),
  reads: ({ field }) => field,
  shown: ({ field }, facts) => facts.value(field),
  all: (scope) => ofField(null)(scope).map((one) => ({ kind: 'field', field: one.key })),
};

/** One row for each kind of subject. */
export const SUBJECTS: { readonly [K in SubjectKind]: SubjectRow<SubjectOf<K>> } = {
  field: FIELD,
  currency: {
    words: 'the currency of an amount',
    places: EVERYWHERE,
    read: object<SubjectOf<'currency'>>({ kind: oneOf(['currency']), field: text() }),
    holds(subject, scope, spot) {
      const found = fieldAt(subject.field, scope, spot.at('field'), 'money');
      return found && holding(`${found.key}.currency`, 'currency');
    },
    value({ field }, facts) {
      const amount = facts.value(field);
      if (amount.kind !== 'money') return amount;
      return { kind: 'text', text: amount.currency, folded: fold(amount.currency) };
    },
    reads: ({ field }) => field,
    shown: ({ field }, facts) => facts.value(field),
    all: (scope) => ofField('money')(scope).map((one) => ({ kind: 'currency', field: one.key })),
  },
  'days-since': {
    words: 'how many days ago a day was',
    places: EVERYWHERE,
    read: object<SubjectOf<'days-since'>>({ kind: oneOf(['days-since']), day: readField }),
    holds(subject, scope, spot) {
      const found = fieldAt(subject.day.field, scope, spot.at('day').at('field'), 'date');
      return found && holding(`today() - ${found.key}`, 'number', [], 0);
    },
    value({ day }, facts) {
      const value = FIELD.value(day, facts);
      if (value.kind !== 'date') return value;
      return { kind: 'number', scaled: facts.today() - dayNumber(value.day), decimals: 0 };
    },
    reads: ({ day }) => FIELD.reads(day),
    shown: ({ day }, facts) => FIELD.shown(day, facts),
    all: (scope) =>
      ofField('date')(scope).map((one) => ({ kind: 'days-since', day: { kind: 'field', field: one.key } })),
  },
  score: computedRow(
    'fit, engagement, rank',
    AFTER_SCORES,
    object<SubjectOf<'score'>>({ kind: oneOf(['score']), axis: oneOf(SCORE_AXES) }),
    ({ axis }) => axis,
    ({ axis }) => holding(axis, 'number'),
    SCORE_AXES.map((axis) => ({ kind: 'score', axis })),
  ),
  band: computedRow(
    'fit_band, engagement_band',
    AFTER_SCORES,
    object<SubjectOf<'band'>>({ kind: oneOf(['band']), axis: oneOf(BAND_AXES) }),
    ({ axis }) => `${axis}_band`,
    ({ axis }, { bands }) => holding(`${axis}_band`, 'choice', bands[axis]),
    BAND_AXES.map((axis) => ({ kind: 'band', axis })),
  ),
  verdict: computedRow(
    'verdict',
    AFTER_SCORES,
    object<SubjectOf<'verdict'>>({ kind: oneOf(['verdict']) }),
    () => 'verdict',
    () => holding('verdict', 'choice', VERDICT_KEYS),
    [{ kind: 'verdict' }],
  ),
  stage: computedRow(
    'stage',
    AFTER_SCORES,
    object<SubjectOf<'stage'>>({ kind: oneOf(['stage']) }),
    () => 'stage',
    (_, { stages }) => holding('stage', 'choice', stages),
    [{ kind: 'stage' }],
  ),
  territory: computedRow(
    'territory',
    AFTER_GATES,
    object<SubjectOf<'territory'>>({ kind: oneOf(['territory']) }),
    () => 'territory',
    (_, { territories }) => holding('territory', 'choice', territories),
    [{ kind: 'territory' }],
  ),
};

/** The row of a subject's kind. */
export function rowOf(subject: Subject): SubjectRow<Subject> {
  return SUBJECTS[subject.kind];
}

/** Under which key what is read for a subject is kept: that of a field, or of something computed. */
export function readKeyOf(subject: Subject): string {
  return rowOf(subject).reads(subject);
}

/** What may be asked about at a place, in words: "the record’s own fields, fit, verdict". */
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

/** What a subject holds at the place of a scope; says what is wrong with it there, and gives null. */
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

/** What the way of a record computes, by the key under which it is kept, such as `fit_band`. */
export const COMPUTED_SUBJECTS: ReadonlyMap<string, Subject> = new Map(
  [
    ...SUBJECTS.score.all(fieldScope(new Map(), '')),
    ...SUBJECTS.band.all(fieldScope(new Map(), '')),
    { kind: 'verdict' } as const,
    { kind: 'stage' } as const,
    { kind: 'territory' } as const,
  ].map((subject): [string, Subject] => [rowOf(subject).reads(subject), subject]),
);
