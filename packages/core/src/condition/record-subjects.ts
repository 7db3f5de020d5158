import { happeningText, timesHappened } from '../activity/happened';
import { readHaving } from '../activity/read-having';
import type { Spot } from '../document/problem';
import { key, number, object, oneByKind, oneOf, orElse, orNull, type Read, text } from '../document/read-json';
import { dayNumber, dayOf } from '../record/day';
import { type Field, type FieldType, NUMBER_DECIMALS, takesAnyOption } from '../record/field';
import { fold } from '../record/fold';
import type { Instant } from '../record/keys';
import { currencyDecimals } from '../record/money';
import { WAYS } from '../record/record';
import { BLANK, type Value } from '../record/value';
import type { Facts } from './facts';
import type { Scope } from './scope';
import type { DaySubject, FieldSubject, SubjectOf } from './subject';
import { EVERYWHERE, holding, type SubjectRow, textValue } from './subject-row';

// Subjects of the record itself: its values, when and how it came in, its activities.

/** The field that a subject names; says so where there is none, or one of another type. */
function fieldAt(name: string, scope: Scope, spot: Spot, type: FieldType | null = null): Field | null {
  const found = scope.fields.get(name);
  if (found === undefined) {
    spot.say(`no such field: ${name}`);
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

const readField = object<FieldSubject>({ kind: oneOf(['field']), field: text() });

export const FIELD: SubjectRow<FieldSubject> = {
  words: 'the record’s own fields, and those of its contact and company',
  places: EVERYWHERE,
  read: readField,
  holds(subject, scope, spot) {
    const found = fieldAt(subject.field, scope, spot.at('field'));
    if (found === null) return null;
    const { key, type, options, retiredOptions: retired = [], spellings = [], ownRegions = [] } = found;
    return { ...holding(key, type, options), retired, open: takesAnyOption(found), spellings, ownRegions };
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

export const ARRIVED = instantRow('the day of its arrival', 'arrived', 'arrived', ({ arrived }) => arrived);
export const LAST_ACTIVITY = instantRow(
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

export const CURRENCY: SubjectRow<SubjectOf<'currency'>> = {
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
};

export const AMOUNT: SubjectRow<SubjectOf<'amount'>> = {
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
};

export const DAYS_SINCE: SubjectRow<SubjectOf<'days-since'>> = {
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
};

export const HAPPENED: SubjectRow<SubjectOf<'happened'>> = {
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
  shown: (subject, facts) => HAPPENED.value(subject, facts),
  all: ({ kinds }) =>
    [...kinds.values()]
      .filter(({ retired }) => !retired)
      .map((kind) => ({ kind: 'happened', activity: kind.key, having: [], within: null })),
};

export const WAY_IN: SubjectRow<SubjectOf<'way-in'>> = {
  words: 'the way in',
  places: EVERYWHERE,
  read: object<SubjectOf<'way-in'>>({ kind: oneOf(['way-in']) }),
  holds: () => holding('way_in', 'choice', WAYS),
  value: (_, { way }) => textValue(way),
  reads: () => 'way_in',
  shown: (_, { way }) => textValue(way),
  all: () => [{ kind: 'way-in' }],
};
