import { VERDICT_KEYS } from '../grade/verdict';
import type { Spot } from '../document/problem';
import { key, number, object, oneByKind, oneOf, orElse, orNull, type Read, text } from '../document/read-json';
import { happeningText, timesHappened } from '../activity/happened';
import { readHaving } from '../activity/read-having';
import { dayNumber, dayOf } from '../record/day';
import { type Computed, type Field, type FieldType, NUMBER_DECIMALS } from '../record/field';
import { fold } from '../record/fold';
import type { Instant } from '../record/keys';
import { currencyDecimals } from '../record/money';
import { WAYS } from '../record/record';
import { wholeDays } from '../record/stage-days';
import { BLANK, type Value } from '../record/value';
import type { Facts } from './facts';
import type { RulePlace, Scope } from './scope';
import {
  BAND_AXES,
  type DaySubject,
  type FieldSubject,
  SCORE_AXES,
  type Subject,
  type SubjectKind,
  type SubjectOf,
} from './subject';

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
export interface SubjectRow<S> {
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

/** An instant of a record, asked about as the day on which it was. */
function instantRow<K extends 'arrived' | 'last-activity'>(
  words: string,
  name: string,
  kind: K,
  at: (facts: Facts) => Instant | null,
): SubjectRow<{ readonly kind: K }> {
  const value = (facts: Facts): Value => {
    const instant = at(facts);
    return instant === null ? BLANK : { kind: 'date', day: dayOf(instant, facts.timeZone) };
  };
  return {
    words,
    places: EVERYWHERE,
    read: object<{ readonly kind: K }>({ kind: oneOf([kind]) }),
    holds: () => holding(name, 'date'),
    value: (_, facts) => value(facts),
    reads: () => name,
    shown: (_, facts) => value(facts),
    all: () => [{ kind }],
  };
}

const ARRIVED = instantRow('the day of its arrival', 'arrived', 'arrived', ({ arrived }) => arrived);
const LAST_ACTIVITY = instantRow(
  'the day on which they last did something',
  'last_activity',
  'last-activity',
  (facts) => facts.lastActivity(),
);

/** The row of a day that is asked about by itself, or for how long ago it was. */
function dayRow(day: DaySubject): SubjectRow<DaySubject> {
  switch (day.kind) {
    case 'field':
      return FIELD;
    case 'arrived':
      return ARRIVED;
    case 'last-activity':
      return LAST_ACTIVITY;
  }
}

const readDay: Read<DaySubject> = oneByKind<DaySubject>('kind', {
  field: readField,
  arrived: ARRIVED.read,
  'last-activity': LAST_ACTIVITY.read,
});

function texts(text: string | null): Value {
  return text === null ? BLANK : { kind: 'text', text, folded: fold(text) };
}

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
  amount: {
    words: 'an amount as entered',
    places: EVERYWHERE,
    read: object<SubjectOf<'amount'>>({ kind: oneOf(['amount']), field: text() }),
    holds(subject, scope, spot) {
      const found = fieldAt(subject.field, scope, spot.at('field'), 'money');
      return found && holding(`${found.key}.amount`, 'number');
    },
    value({ field }, facts) {
      const amount = facts.value(field);
      if (amount.kind !== 'money') return amount;
      const decimals = currencyDecimals(amount.currency) ?? 0;
      return { kind: 'number', scaled: amount.minor * 10 ** (NUMBER_DECIMALS - decimals), decimals: NUMBER_DECIMALS };
    },
    reads: ({ field }) => field,
    shown: ({ field }, facts) => facts.value(field),
    all: (scope) => ofField('money')(scope).map((one) => ({ kind: 'amount', field: one.key })),
  },
  'days-since': {
    words: 'how many days ago a day was',
    places: EVERYWHERE,
    read: object<SubjectOf<'days-since'>>({ kind: oneOf(['days-since']), day: readDay }),
    holds(subject, scope, spot) {
      const { day } = subject;
      const held = dayRow(day).holds(day, scope, spot.at('day'));
      if (held !== null && held.type !== 'date') spot.at('day').say(`holds ${held.type}, not date: ${held.key}`);
      return held?.type === 'date' ? holding(`today() - ${held.key}`, 'number', [], 0) : null;
    },
    value({ day }, facts) {
      const value = dayRow(day).value(day, facts);
      if (value.kind !== 'date') return value;
      return { kind: 'number', scaled: facts.today() - dayNumber(value.day), decimals: 0 };
    },
    reads: ({ day }) => dayRow(day).reads(day),
    shown: ({ day }, facts) => dayRow(day).shown(day, facts),
    all: (scope) =>
      [
        ...ofField('date')(scope).map((one): DaySubject => ({ kind: 'field', field: one.key })),
        ...ARRIVED.all(scope),
        ...LAST_ACTIVITY.all(scope),
      ].map((day) => ({ kind: 'days-since', day })),
  },
  arrived: ARRIVED,
  'last-activity': LAST_ACTIVITY,
  happened: {
    words: 'how often something happened',
    places: EVERYWHERE,
    read: object<SubjectOf<'happened'>>(
      {
        kind: oneOf(['happened']),
        activity: key(),
        having: orElse(readHaving, []),
        within: orNull(number({ least: 1, most: 3650 })),
      },
      ['having', 'within'],
    ),
    holds({ activity }, { kinds }, spot) {
      if (!kinds.has(activity)) spot.at('activity').say(`no such kind of activity: ${activity}`);
      return holding(activity, 'number', [], 0);
    },
    value: (subject, facts) => ({
      kind: 'number',
      scaled: timesHappened(subject, facts.activities, facts.asOf),
      decimals: 0,
    }),
    reads: (subject) => `happened ${happeningText(subject)}`,
    shown: (subject, facts) => SUBJECTS.happened.value(subject, facts),
    all: ({ kinds }) =>
      [...kinds.values()]
        .filter(({ retired }) => !retired)
        .map((kind) => ({ kind: 'happened', activity: kind.key, having: [], within: null })),
  },
  'way-in': {
    words: 'the way in',
    places: EVERYWHERE,
    read: object<SubjectOf<'way-in'>>({ kind: oneOf(['way-in']) }),
    holds: () => holding('way_in', 'choice', WAYS),
    value: (_, { way }) => texts(way),
    reads: () => 'way_in',
    shown: (_, { way }) => texts(way),
    all: () => [{ kind: 'way-in' }],
  },
  score: computedRow(
    'fit, engagement, rank',
    AFTER_SCORES,
    object<SubjectOf<'score'>>({ kind: oneOf(['score']), axis: oneOf(SCORE_AXES) }),
    ({ axis }) => axis,
    ({ axis }) => holding(axis, 'number'),
    SCORE_AXES.map((axis) => ({ kind: 'score', axis })),
  ),
  'set-score': {
    words: 'a score of one set',
    places: AFTER_SCORES,
    read: object<SubjectOf<'set-score'>>({ kind: oneOf(['set-score']), set: key(), axis: oneOf(SCORE_AXES) }),
    holds({ set, axis }, { sets }, spot) {
      if (!sets.includes(set)) spot.at('set').say(`no such score set for these records: ${set}`);
      return holding(`${set}.${axis}`, 'number');
    },
    value: ({ set, axis }, facts) => facts.setScore(set, axis),
    reads: ({ set, axis }) => `${set}.${axis}`,
    shown: ({ set, axis }, facts) => facts.setScore(set, axis),
    all: ({ sets }) => sets.flatMap((set) => SCORE_AXES.map((axis) => ({ kind: 'set-score', set, axis }))),
  },
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
  'days-in-stage': {
    words: 'days in the stage',
    places: AFTER_SCORES,
    read: object<SubjectOf<'days-in-stage'>>({ kind: oneOf(['days-in-stage']) }),
    holds: () => holding('days_in_stage', 'number', [], 0),
    value: (_, { stageSince, asOf, timeZone }) => ({
      kind: 'number',
      scaled: wholeDays(stageSince, asOf, timeZone),
      decimals: 0,
    }),
    reads: () => 'days_in_stage',
    shown: (subject, facts) => SUBJECTS['days-in-stage'].value(subject, facts),
    all: () => [{ kind: 'days-in-stage' }],
  },
  owner: {
    words: 'the owner',
    places: AFTER_SCORES,
    read: object<SubjectOf<'owner'>>({ kind: oneOf(['owner']) }),
    holds: (_, { owners }) => holding('owner', 'choice', owners),
    value: (_, { owner }) => texts(owner),
    reads: () => 'owner',
    shown: (_, { owner }) => texts(owner),
    all: ({ owners }) => (owners.length === 0 ? [] : [{ kind: 'owner' }]),
  },
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
      { kind: 'owner' },
    ] satisfies readonly Subject[]
  ).map((subject): [string, Subject] => [rowOf(subject).reads(subject), subject]),
);
