import fc from 'fast-check';
import type { Field } from '../record/field';
import { dayNumber } from '../record/day';
import { Rates } from '../record/money';
import { BLANK, type Raw, readValue, type Value } from '../record/value';
import type { Condition } from './condition';
import type { Facts } from './facts';
import type { Bound } from './predicate';
import { fieldScope } from './scope';
import type { Subject } from './subject';

/** One field of each kind, for random conditions. */
export const FIELDS: ReadonlyMap<string, Field> = new Map(
  (
    [
      ['words', 'text'],
      ['size', 'number'],
      ['worth', 'money'],
      ['trade', 'choice'],
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

const WORDS = ['straße', 'STRASSE', 'ﬁsh', 'Fish farm', 'ΟΔΟΣ', 'οδος', 'a%b_c\\', "o'brien", 'İ', 'x'];
const NUMBERS = ['-1', '0', '49.9999', '50', '50.0001', '75', '1000'];
const DAYS = ['2025-12-31', '2026-01-01', '2026-02-28', '2026-03-01'];
const LANDS = ['NO', 'Norway', 'de', 'USA', 'Sweden'];
const MAILS = ['a@fjord.example', 'B@FJORD.EXAMPLE', 'c@loch.example'];

/** All that a signal may ask about. */
export const SCOPE = fieldScope(FIELDS, 'EUR');

/** The day on which the conditions are judged. */
export const TODAY = '2026-02-28';

const rates = new Rates([{ currency: 'NOK', from: '2026-01-01', micro: 85_000 }], 'EUR');

/** A record with these values, as conditions ask it; a krone is 0.085 EUR. */
export function factsOf(raw: Readonly<Record<string, Raw>>): Facts {
  const value = (key: string): Value => {
    const field = FIELDS.get(key);
    return field ? readValue(field, raw[key] ?? null, '2026-03-01') : BLANK;
  };
  return {
    value,
    inBase: (amount) => rates.toBase(amount, 'EUR'),
    computed: () => BLANK,
    today: () => dayNumber(TODAY),
  };
}

/** Raw values that hit bounds, blanks, Unicode and what can't be read. */
export const rawRecord: fc.Arbitrary<Record<string, Raw>> = fc.record({
  words: fc.constantFrom<Raw>(null, '', '  ', ...WORDS),
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
  agreed: fc.constantFrom<Raw>(null, true, 'no', 'perhaps'),
  since: fc.constantFrom<Raw>(null, 'soon', ...DAYS),
  mail: fc.constantFrom<Raw>(null, 'nobody', ...MAILS),
  land: fc.constantFrom<Raw>(null, 'Atlantis', ...LANDS),
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

const field = (key: string): Subject & { kind: 'field' } => ({ kind: 'field', field: key });
const SINCE: Subject = { kind: 'days-since', day: field('since') };

const anyTest: fc.Arbitrary<Condition> = fc.oneof(
  texts(field('words'), WORDS),
  texts(field('trade'), ['Brewery', 'Fish farm', 'KÄSEREI']),
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
  fc.constant<Condition>({ test: 'blank', subject: SINCE }),
  fc.constant<Condition>({ test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['NOK', 'gbp'] }),
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
