import fc from 'fast-check';
import { kindsFrom, lastByThem, STANDARD_KINDS } from '../activity/activity-kind';
import type { PropertyTest } from '../activity/property-test';
import type { Field } from '../record/field';
import { dayNumber } from '../record/day';
import { Rates } from '../record/money';
import { WAYS } from '../record/record';
import { BLANK, type Raw, readValue, type Value } from '../record/value';
import type { Condition } from './condition';
import { type Facts, NO_FACTS } from './facts';
import type { Bound } from './predicate';
import { fieldScope, type Scope } from './scope';
import type { Subject } from './subject';

/** One field of each kind, for random conditions. */
export const FIELDS: ReadonlyMap<string, Field> = new Map(
  (
    [
      ['words', 'text'],
      ['size', 'number'],
      ['worth', 'money'],
      ['trade', 'choice'],
      ['likes', 'choices'],
      ['tags', 'choices'],
      ['agreed', 'yes-no'],
      ['since', 'date'],
      ['mail', 'email'],
      ['land', 'country'],
    ] as const
  ).map(([key, type]): [string, Field] => [
    key,
    { key, name: key, type, options: ['Brewery', 'Fish farm', 'Käserei'], retired: false },
  ]),
);

/** Fields of a record's contact and company, which conditions read across a tie. */
export const TIED_FIELDS: ReadonlyMap<string, Field> = new Map(
  (
    [
      ['company.size', 'number'],
      ['company.trade', 'choice'],
      ['company.worth', 'money'],
      ['contact.mail', 'email'],
      ['contact.since', 'date'],
    ] as const
  ).map(([key, type]): [string, Field] => [
    key,
    { key, name: key, type, options: ['Brewery', 'Fish farm', 'Käserei'], retired: false },
  ]),
);

/** The fields of a record, and of what it is tied to. */
export const ALL_FIELDS: ReadonlyMap<string, Field> = new Map([...FIELDS, ...TIED_FIELDS]);

const WORDS = ['straße', 'STRASSE', 'ﬁsh', 'Fish farm', 'ΟΔΟΣ', 'οδος', 'a%b_c\\', "o'brien", 'İ', 'x'];
const NUMBERS = ['-1', '0', '49.9999', '50', '50.0001', '75', '1000'];
const DAYS = ['2025-12-31', '2026-01-01', '2026-02-28', '2026-03-01'];
const LIKES = ['Brewery', 'Fish farm', 'KÄSEREI'];
const TAGGED = ['Fair 26', 'fair 26', 'Straße', 'x', 'unheard'];
const LANDS = ['NO', 'Norway', 'de', 'USA', 'Sweden'];
const MAILS = ['a@fjord.example', 'B@FJORD.EXAMPLE', 'c@loch.example'];

/** All that a signal may ask about. */
export const SCOPE: Scope = { ...fieldScope(ALL_FIELDS, 'EUR'), kinds: kindsFrom(STANDARD_KINDS) };

/** Property tests that some conditions use. */
export const HAVING: readonly PropertyTest[] = [{ property: 'page', test: 'contains', values: ['Pric', 'demo'] }];

/** The moment at which conditions are judged; in Oslo it is one o'clock. */
export const JUDGED_AT = Date.parse('2026-02-28T12:00:00Z');
const MINUTE = 60_000;
const DAY = 24 * 60;

/** Something that happened with a record, so many minutes before it is judged. */
export interface Did {
  readonly kind: string;
  readonly minutes: number;
  readonly page: string;
}

function textIn(raw: Readonly<Record<string, Raw>>, key: string): string {
  const value = raw[key];
  return typeof value === 'string' ? value : '';
}

/** The activities of a raw record, which holds them as text. */
export function didIn(raw: Readonly<Record<string, Raw>>): readonly Did[] {
  const text = textIn(raw, 'did');
  return text === ''
    ? []
    : text.split('; ').map((one) => {
        const [kind = '', minutes = '', page = ''] = one.split(' ');
        return { kind, minutes: Number(minutes), page };
      });
}

/** How many minutes before a record is judged it came in. */
export const minutesSince = (raw: Readonly<Record<string, Raw>>): number => Number(raw['arrived'] ?? 0);

/** The day on which the conditions are judged. */
export const TODAY = '2026-02-28';

const rates = new Rates(
  [
    { currency: 'NOK', from: '2026-01-01', micro: 85_000 },
    { currency: 'SEK', from: '2026-01-01', micro: 89_000 },
  ],
  'EUR',
);

/** A record with these values, as conditions ask it; a krone is 0.085 EUR. */
export function factsOf(raw: Readonly<Record<string, Raw>>): Facts {
  const value = (key: string): Value => {
    const field = ALL_FIELDS.get(key);
    return field ? readValue(field, raw[key] ?? null, '2026-03-01') : BLANK;
  };
  const activities = didIn(raw).map(({ kind, minutes, page }) => ({
    kind,
    at: JUDGED_AT - minutes * MINUTE,
    ...(page === '' ? {} : { properties: { page } }),
  }));
  return {
    ...NO_FACTS,
    asOf: JUDGED_AT,
    timeZone: 'Europe/Oslo',
    arrived: JUDGED_AT - minutesSince(raw) * MINUTE,
    activities,
    lastActivity: () => lastByThem(SCOPE.kinds, activities, JUDGED_AT),
    way: textIn(raw, 'way') || null,
    value,
    inBase: (amount) => rates.toBase(amount, 'EUR'),
    today: () => dayNumber(TODAY),
  };
}

const raws = {
  size: fc.constantFrom<Raw>(null, '', 'about 50', ...NUMBERS),
  worth: fc.constantFrom<Raw>(
    null,
    '20000 EUR',
    '19999.99 EUR',
    '20000 NOK',
    '235294.12 NOK',
    '100 GBP',
    '20000',
    'much',
  ),
  trade: fc.constantFrom<Raw>(null, 'brewery', 'FISH FARM', 'Käserei', 'Mill'),
  since: fc.constantFrom<Raw>(null, 'soon', ...DAYS),
  mail: fc.constantFrom<Raw>(null, 'nobody', ...MAILS),
};

/** Raw values that hit bounds, blanks, Unicode and what can't be read; of the record itself, and of what it is tied to. */
export const rawRecord: fc.Arbitrary<Record<string, Raw>> = fc.record({
  ...raws,
  'company.size': raws.size,
  'company.trade': raws.trade,
  'company.worth': raws.worth,
  'contact.mail': raws.mail,
  'contact.since': raws.since,
  words: fc.constantFrom<Raw>(null, '', '  ', ...WORDS),
  likes: fc.constantFrom<Raw>(null, '', ' ; ', 'brewery', 'Fish farm;BREWERY', ['Käserei', 'brewery'], 'Brewery; Mill'),
  tags: fc.constantFrom<Raw>(null, ['FAIR 26', 'x'], 'fair 26', 'strasse; Fair 26', ['x'], 'fair', 'x'.repeat(191)),
  agreed: fc.constantFrom<Raw>(null, true, 'no', 'perhaps'),
  land: fc.constantFrom<Raw>(null, 'Atlantis', ...LANDS),
  // In Oslo a day ends 13 hours before.
  arrived: fc.constantFrom<Raw>(0, 779, 780, 781, 3 * DAY, 58 * DAY),
  way: fc.constantFrom<Raw>(null, ...WAYS),
  did: fc
    .array(
      fc.tuple(
        fc.constantFrom('mail_clicked', 'call_taken', 'mail_sent'),
        // Exactly at the end of a window, a minute before and after; and what is still to come.
        fc.constantFrom(-5, 0, 779, 780, 7 * DAY - 1, 7 * DAY, 7 * DAY + 1, 59 * DAY),
        fc.constantFrom('', '/pricing', '/about', '/demo'),
      ),
      { maxLength: 4 },
    )
    .map((list): Raw => list.map((one) => one.join(' ')).join('; ')),
});

function range(subject: Subject, ends: readonly string[]): fc.Arbitrary<Condition> {
  return fc
    .tuple(
      fc.nat(ends.length - 1),
      fc.nat(ends.length - 1),
      fc.boolean(),
      fc.boolean(),
      fc.constantFrom('from', 'to', 'both'),
    )
    .map(([a, b, fromIn, toIn, which]) => {
      const from: Bound = { at: ends[Math.min(a, b)] ?? '', included: a === b || fromIn };
      const to: Bound = { at: ends[Math.max(a, b)] ?? '', included: a === b || toIn };
      return { test: 'range', subject, from: which === 'to' ? null : from, to: which === 'from' ? null : to };
    });
}

function texts(subject: Subject, values: readonly string[], parts = true): fc.Arbitrary<Condition> {
  const some = fc.subarray([...values], { minLength: 1, maxLength: 3 });
  return fc.oneof(
    fc.constantFrom(...values).map((value): Condition => ({ test: 'one-of', subject, values: [value] })),
    some.map((list): Condition => ({ test: 'one-of', subject, values: list })),
    ...(parts
      ? [
          fc
            .tuple(fc.constantFrom('contains', 'starts-with', 'ends-with'), some)
            .map(([test, list]): Condition => ({ test, subject, values: list.map((v) => v.slice(0, 4)) })),
        ]
      : []),
  );
}

function choices(subject: Subject, values: readonly string[]): fc.Arbitrary<Condition> {
  return fc
    .tuple(fc.constantFrom('any-of', 'all-of'), fc.subarray([...values], { minLength: 1, maxLength: 3 }))
    .map(([test, list]): Condition => ({ test, subject, values: list }));
}

const field = (key: string): Subject & { kind: 'field' } => ({ kind: 'field', field: key });
const SINCE: Subject = { kind: 'days-since', day: field('since') };
const LAST = { kind: 'last-activity' } as const;

const anyTest: fc.Arbitrary<Condition> = fc.oneof(
  texts(field('words'), WORDS),
  texts(field('trade'), ['Brewery', 'Fish farm', 'KÄSEREI']),
  choices(field('likes'), LIKES),
  choices(field('tags'), TAGGED),
  texts(field('mail'), MAILS),
  texts(field('land'), LANDS, false),
  range(field('size'), NUMBERS),
  range(field('worth'), ['0', '1700', '19999.99', '20000', '20000.01']),
  range(field('since'), DAYS),
  range(SINCE, ['-1', '0', '1', '58', '59', '90']),
  fc.constantFrom('0', '58').map((value): Condition => ({ test: 'one-of', subject: SINCE, values: [value] })),
  fc.constantFrom(...DAYS).map((value): Condition => ({ test: 'one-of', subject: field('since'), values: [value] })),
  fc.constantFrom(...NUMBERS).map((value): Condition => ({ test: 'one-of', subject: field('size'), values: [value] })),
  fc
    .constantFrom('yes', 'no')
    .map((value): Condition => ({ test: 'one-of', subject: field('agreed'), values: [value] })),
  fc.constantFrom(...FIELDS.keys()).map((key): Condition => ({ test: 'blank', subject: field(key) })),
  fc
    .constantFrom<Subject>(SINCE, LAST, { kind: 'days-since', day: LAST }, { kind: 'way-in' })
    .map((subject): Condition => ({ test: 'blank', subject })),
  range({ kind: 'amount', field: 'worth' }, ['100', '1700', '19999.99', '20000', '20000.01']),
  ...([{ kind: 'arrived' }, LAST] as const).flatMap((day) => [
    range(day, ['2025-12-31', '2026-02-21', '2026-02-27', '2026-02-28']),
    range({ kind: 'days-since', day }, ['-1', '0', '1', '7', '58']),
  ]),
  fc
    .tuple(
      fc.constantFrom('mail_clicked', 'call_taken', 'mail_sent'),
      fc.constantFrom([], HAVING),
      fc.constantFrom(null, 7, 58),
      fc.constantFrom('0', '1', '2'),
      fc.boolean(),
    )
    .map(([activity, having, within, at, least]): Condition => {
      const end: Bound = { at, included: true };
      return {
        test: 'range',
        subject: { kind: 'happened', activity, having, within },
        from: least ? end : null,
        to: least ? null : end,
      };
    }),
  fc
    .subarray([...WAYS], { minLength: 1 })
    .map((values): Condition => ({ test: 'one-of', subject: { kind: 'way-in' }, values })),
  fc.constant<Condition>({ test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['NOK', 'gbp'] }),
);

/** A test across a tie. */
export const tiedTest: fc.Arbitrary<Condition> = fc.oneof(
  texts(field('company.trade'), ['Brewery', 'Fish farm', 'KÄSEREI']),
  range(field('company.size'), NUMBERS),
  range(field('company.worth'), ['0', '1700', '19999.99', '20000', '20000.01']),
  range({ kind: 'amount', field: 'company.worth' }, ['100', '20000']),
  texts(field('contact.mail'), MAILS),
  range({ kind: 'days-since', day: field('contact.since') }, ['-1', '0', '1', '58']),
  fc.constantFrom(...TIED_FIELDS.keys()).map((key): Condition => ({ test: 'blank', subject: field(key) })),
);

/** Any condition over FIELDS, nested a few deep. */
export const condition: fc.Arbitrary<Condition> = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    anyTest,
    fc
      .tuple(fc.constantFrom('all', 'any'), fc.array(tie('tree'), { maxLength: 3 }))
      .map(([test, of]): Condition => ({ test, of })),
    tie('tree').map((of): Condition => ({ test: 'not', of })),
  ),
})).tree;
