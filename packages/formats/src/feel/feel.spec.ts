import {
  bareKey,
  bindCondition,
  type Condition,
  dayOf,
  fold,
  judge,
  kindOfField,
  type Problem,
  type RecordKind,
  type Scope,
  Spot,
  type Subject,
} from '@relvik/core';
import fc from 'fast-check';
import { evaluate } from 'feelin';
import {
  ALL_FIELDS,
  condition as ownCondition,
  didIn,
  factsOf,
  FIELDS,
  rawRecord,
  SCOPE,
  tiedTest,
  TIED_FIELDS,
  TODAY,
} from '../../../core/src/condition/conditions.fixture';
import { conditionFromFeel } from './condition-from-feel';
import { conditionToFeel } from './condition-to-feel';

/** A condition over a record’s own fields, and now and then across a tie. */
const condition = fc.oneof(
  { arbitrary: ownCondition, weight: 3 },
  { arbitrary: fc.tuple(tiedTest, ownCondition).map((of): Condition => ({ test: 'any', of })), weight: 1 },
  { arbitrary: tiedTest, weight: 1 },
);
const field = (key: string): Subject & { kind: 'field' } => ({ kind: 'field', field: key });
const sinceDays: Subject = { kind: 'days-since', day: field('since') };

function feelOf(asked: Condition): string {
  const written = conditionToFeel(asked, SCOPE);
  if (!written.ok) throw new Error(written.why);
  return written.text;
}
function readBack(text: string): Condition {
  const reading = conditionFromFeel(text, SCOPE);
  if (!reading.ok) throw new Error(`${text}: ${JSON.stringify(reading.problems)}`);
  return reading.condition;
}
function answersOf(asked: Condition, records: readonly Parameters<typeof factsOf>[0][]): string[] {
  const problems: Problem[] = [];
  const ready = bindCondition(asked, SCOPE, Spot.root(problems));
  expect(problems).toEqual([]);
  return records.map((raw) => judge(ready, factsOf(raw)));
}
const RECORDS = fc.sample(rawRecord, { numRuns: 400, seed: 7 });

test('written as FEEL and read back, a condition judges every record as before, and its text stays the same', () => {
  fc.assert(
    fc.property(condition, (asked) => {
      const text = feelOf(asked);
      const again = readBack(text);
      expect(answersOf(again, RECORDS)).toEqual(answersOf(asked, RECORDS));
      expect(feelOf(again)).toBe(text);
    }),
    { numRuns: 300 },
  );
});

// Outside judge: feelin, an interpreter of FEEL (OMG's DMN standard). It parses at every call, so one condition is asked of a
// list of records in one expression. Texts are folded before, as the standard compares them as they are; each question is
// wrapped so that null is false.
const TEXTS = ['words', 'trade', 'likes', 'tags', 'mail', 'land', 'company.trade', 'contact.mail'];

function literalOf(raw: Parameters<typeof factsOf>[0], key: string): string {
  const facts = factsOf(raw);
  const value = facts.value(key);
  switch (value.kind) {
    case 'text':
      return JSON.stringify(value.folded);
    case 'choices':
      return JSON.stringify(value.texts.map(fold));
    case 'number':
      return String(value.scaled / 10_000);
    case 'money':
      return String((facts.inBase(value) ?? 0) / 100);
    case 'date':
      return `date("${value.day}")`;
    case 'yes-no':
      return String(value.yes);
    default:
      return 'null';
  }
}

/** A record as FEEL reads it: its fields, and what else can be asked about. */
function contextOf(raw: Parameters<typeof factsOf>[0]): string {
  const facts = factsOf(raw);
  const day = (at: number | null): string => (at === null ? 'null' : `date("${dayOf(at, 'Europe/Oslo')}")`);
  const entered = (key: string): string => {
    const amount = facts.value(key);
    return `${bareKey(key)}_amount: ${amount.kind === 'money' ? amount.minor / 100 : 'null'}`;
  };
  const tied = (kind: RecordKind): string =>
    [...TIED_FIELDS.keys()]
      .filter((key) => kindOfField(key) === kind)
      .map((key) => `${bareKey(key)}: ${literalOf(raw, key)}`)
      .join(', ');
  const activities = didIn(raw)
    .filter(({ minutes }) => minutes >= 0)
    .map(({ kind, minutes, page }) => `{kind: "${kind}", page: "${page}", age: duration("PT${minutes}M")}`);
  const parts = [
    ...[...FIELDS.keys()].map((key) => `${key}: ${literalOf(raw, key)}`),
    entered('worth'),
    `company: {${tied('company')}, ${entered('company.worth')}}`,
    `contact: {${tied('contact')}}`,
    `arrived: ${day(facts.arrived)}`,
    `last_activity: ${day(facts.lastActivity())}`,
    `way_in: ${facts.way === null ? 'null' : `"${facts.way}"`}`,
    `activities: [${activities.join(', ')}]`,
  ];
  return `{${parts.join(', ')}}`;
}

/** The same condition with texts as the records have them, and no question about currencies: FEEL has none. */
function folded(asked: Condition): Condition {
  switch (asked.test) {
    case 'all':
    case 'any':
      return { ...asked, of: asked.of.map(folded) };
    case 'not':
      return { ...asked, of: folded(asked.of) };
    default: {
      const { subject } = asked;
      if (subject.kind === 'currency') return { test: 'blank', subject: field(subject.field) };
      if (subject.kind === 'happened') {
        const having = subject.having.map((one) => ({ ...one, values: one.values.map(fold) }));
        return { ...asked, subject: { ...subject, having } };
      }
      if (subject.kind !== 'field' || !TEXTS.includes(subject.field)) return asked;
      const bound = bindCondition(asked, SCOPE, Spot.root([]));
      return 'folded' in bound ? ({ ...asked, values: [...bound.folded] } as Condition) : asked;
    }
  }
}

function wrapped(asked: Condition): string {
  switch (asked.test) {
    case 'all':
      return asked.of.length === 0 ? 'true' : `(${asked.of.map(wrapped).join(' and ')})`;
    case 'any':
      return asked.of.length === 0 ? 'false' : `(${asked.of.map(wrapped).join(' or ')})`;
    case 'not':
      return `not(${wrapped(asked.of)})`;
    default:
      return `(if (${feelOf(asked)}) = true then true else false)`;
  }
}

test('a FEEL interpreter answers as judge does, over random conditions and records that can be judged', () => {
  const judgeable = RECORDS.filter((raw) =>
    [...ALL_FIELDS.keys()].every((key) => {
      const value = factsOf(raw).value(key);
      return value.kind !== 'unreadable' && (value.kind !== 'money' || factsOf(raw).inBase(value) !== null);
    }),
  );
  expect(judgeable.length).toBeGreaterThan(10);
  const list = judgeable.map(contextOf).join(', ');
  let yes = 0;
  fc.assert(
    fc.property(condition.map(folded), (asked) => {
      // An amount is a number here, and has no property beside it.
      const text = wrapped(asked).replaceAll('today()', `date("${TODAY}")`).replaceAll('worth.amount', 'worth_amount');
      const { value } = evaluate(`[${list}][${text} or false]`, {}) as { value: unknown };
      const said = Array.isArray(value) ? value.length : value === null ? 0 : 1;
      const expected = answersOf(asked, judgeable).filter((answer) => answer === 'yes').length;
      yes += expected;
      expect([text, said]).toEqual([text, expected]);
    }),
    { numRuns: 60 },
  );
  expect(yes).toBeGreaterThan(100);
});

test.each<[string, Condition]>([
  [
    'size in [50..500)',
    { test: 'range', subject: field('size'), from: { at: '50', included: true }, to: { at: '500', included: false } },
  ],
  [
    'size between 1 and 5',
    { test: 'range', subject: field('size'), from: { at: '1', included: true }, to: { at: '5', included: true } },
  ],
  [
    'size in (< 5, [7..8])',
    {
      test: 'any',
      of: [
        { test: 'range', subject: field('size'), from: null, to: { at: '5', included: false } },
        { test: 'range', subject: field('size'), from: { at: '7', included: true }, to: { at: '8', included: true } },
      ],
    },
  ],
  ['trade != "Brewery"', { test: 'not', of: { test: 'one-of', subject: field('trade'), values: ['Brewery'] } }],
  [
    'agreed and since > date("2026-01-01")',
    {
      test: 'all',
      of: [
        { test: 'one-of', subject: field('agreed'), values: ['yes'] },
        { test: 'range', subject: field('since'), from: { at: '2026-01-01', included: false }, to: null },
      ],
    },
  ],
  [
    'today() - since <= duration("P30D")',
    { test: 'range', subject: sinceDays, from: null, to: { at: '30', included: true } },
  ],
  [
    'worth.currency = "NOK" or worth >= 20000',
    {
      test: 'any',
      of: [
        { test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['NOK'] },
        { test: 'range', subject: field('worth'), from: { at: '20000', included: true }, to: null },
      ],
    },
  ],
  [
    '(trade = "x" and size = 1) and agreed = false',
    {
      test: 'all',
      of: [
        {
          test: 'all',
          of: [
            { test: 'one-of', subject: field('trade'), values: ['x'] },
            { test: 'one-of', subject: field('size'), values: ['1'] },
          ],
        },
        { test: 'one-of', subject: field('agreed'), values: ['no'] },
      ],
    },
  ],
  [
    'size in [1..5] and agreed or size in (7) and agreed',
    {
      test: 'any',
      of: [
        {
          test: 'all',
          of: [
            {
              test: 'range',
              subject: field('size'),
              from: { at: '1', included: true },
              to: { at: '5', included: true },
            },
            { test: 'one-of', subject: field('agreed'), values: ['yes'] },
          ],
        },
        {
          test: 'all',
          of: [
            { test: 'one-of', subject: field('size'), values: ['7'] },
            { test: 'one-of', subject: field('agreed'), values: ['yes'] },
          ],
        },
      ],
    },
  ],
])('%s is read as one means it', (text, expected) => {
  expect(readBack(text)).toEqual(expected);
});

test.each<[string, Condition]>([
  [
    'worth.amount > 7500 and worth.currency in ("SEK", "NOK")',
    {
      test: 'all',
      of: [
        { test: 'range', subject: { kind: 'amount', field: 'worth' }, from: { at: '7500', included: false }, to: null },
        { test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['SEK', 'NOK'] },
      ],
    },
  ],
  [
    'count(activities[kind = "mail_clicked" and age < duration("P30D")]) >= 2',
    {
      test: 'range',
      subject: { kind: 'happened', activity: 'mail_clicked', having: [], within: 30 },
      from: { at: '2', included: true },
      to: null,
    },
  ],
  [
    'count(activities[kind = "page_visited" and (page in ("/a", "/b")) and (contains(link, "x") or contains(link, "y"))]) = 0',
    {
      test: 'one-of',
      subject: {
        kind: 'happened',
        activity: 'page_visited',
        having: [
          { property: 'page', test: 'is', values: ['/a', '/b'] },
          { property: 'link', test: 'contains', values: ['x', 'y'] },
        ],
        within: null,
      },
      values: ['0'],
    },
  ],
  [
    '(today() - last_activity) > duration("P30D")',
    {
      test: 'range',
      subject: { kind: 'days-since', day: { kind: 'last-activity' } },
      from: { at: '30', included: false },
      to: null,
    },
  ],
])('%s asks about more than a field, and is written back as it was', (text, expected) => {
  expect(readBack(text)).toEqual(expected);
  expect(feelOf(expected)).toBe(text);
});

test.each<[string, number, number, string]>([
  ['count(size) > 1', 0, 11, 'count( ) counts activities[ … ]'],
  ['count(activities[age < duration("P3D")]) > 1', 17, 38, 'needs a kind: kind = "mail_clicked"'],
  ['count(activities[kind = "x" and size > 3]) > 1', 37, 38, 'no condition can keep > here'],
  ['today() - way_in > duration("P3D")', 10, 16, 'must be a day'],
  ['size >', 6, 6, 'something is missing here'],
  ['moon = 1', 0, 4, 'no such field can be read here: moon'],
  ['size = 1 and upper case(words) = "X"', 13, 30, 'must be a field'],
  ['if agreed then size = 1 else false', 0, 34, 'no condition can keep this'],
  ['since > 5', 8, 9, 'must be a day: date("2026-01-31")'],
  ['size = size', 7, 11, 'must be a literal: a text, a number, a day, true, false or null'],
  ['words', 0, 5, 'is no question: compare words with something'],
  ['contains(words)', 0, 15, 'contains( ) takes a field and a text'],
  ['worth.weight = 1', 0, 12, 'has no weight: amounts have a currency and an amount as entered'],
  ['', 0, 0, 'is empty: write true for "always"'],
])('%s: what is wrong is said at its place', (text, from, to, message) => {
  expect(conditionFromFeel(text, SCOPE)).toEqual({ ok: false, problems: [{ from, to, message }] });
});

test('a field called like a word of FEEL has no text, and depth and number have their limits', () => {
  expect(conditionToFeel({ test: 'blank', subject: field('date') }, SCOPE)).toMatchObject({ ok: false });
  expect(conditionFromFeel(`${'not('.repeat(30)}agreed${')'.repeat(30)}`, SCOPE)).toMatchObject({ ok: false });
  const many = (count: number): Condition => ({
    test: 'any',
    of: Array.from({ length: count }, (_, i) => ({ test: 'one-of', subject: field('size'), values: [String(i)] })),
  });
  expect(readBack(feelOf(many(250)))).toEqual(many(250));
  expect(conditionToFeel(many(251), SCOPE)).toMatchObject({ ok: false });
});

test('where each part stands is known by its path', () => {
  const reading = conditionFromFeel('size = 1 or not(trade = "x")', SCOPE);
  expect(reading.ok && [...reading.places].map(([path, { from, to }]) => [path, from, to])).toEqual([
    ['', 0, 28],
    ['/of/0', 0, 8],
    ['/of/1', 12, 28],
    ['/of/1/of', 16, 27],
  ]);
});

test('what was computed is asked about by its name, and a territory also for what it lies in, one text each', () => {
  const scope: Scope = { ...SCOPE, place: 'route', territories: ['north', 'south'] };
  const asked: Condition = { test: 'inside', subject: { kind: 'territory' }, values: ['north', 'south'] };
  const text = 'inside(territory, "north") or inside(territory, "south")';
  expect(conditionToFeel(asked, scope)).toEqual({ ok: true, text });
  expect(conditionFromFeel(text, scope)).toMatchObject({ ok: true, condition: asked });
  expect(conditionFromFeel('engagement_band = "active" and fit >= 40', scope)).toMatchObject({
    condition: { of: [{ subject: { kind: 'band', axis: 'engagement' } }, { subject: { kind: 'score', axis: 'fit' } }] },
  });
  expect(conditionFromFeel('fit >= 40', SCOPE)).toMatchObject({ ok: false });
});
