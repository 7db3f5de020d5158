import fc from 'fast-check';
import { FIELDS, rawRecord } from '../condition/conditions.fixture';
import { joinInquiry, sameValue } from './join';
import { BLANK, readValue, type Value } from './value';

const record = rawRecord.map(
  (raw) =>
    new Map(
      [...FIELDS].map(([key, field]): [string, Value] => [key, readValue(field, raw[key] ?? null, '2026-03-01')]),
    ),
);

test('what is newly said replaces what was known, blanks erase nothing, and the changed fields are exactly those that differ', () => {
  fc.assert(
    fc.property(record, record, (known, inquiry) => {
      const { values, changed } = joinInquiry(known, inquiry);
      for (const field of FIELDS.keys()) {
        const said = inquiry.get(field) ?? BLANK;
        expect(values.get(field)).toEqual(
          said.kind === 'blank' || sameValue(known.get(field), said) ? known.get(field) : said,
        );
        expect(changed.includes(field)).toBe(!sameValue(known.get(field), values.get(field)));
      }
      expect(joinInquiry(values, inquiry).changed).toEqual([]);
    }),
  );
});

test('values are the same by what they say: not by the day an amount was entered, but by case and currency', () => {
  const money = (enteredOn: string, currency = 'EUR'): Value => ({ kind: 'money', minor: 100, currency, enteredOn });
  expect(sameValue(money('2026-01-01'), money('2026-02-02'))).toBe(true);
  expect(sameValue(money('2026-01-01'), money('2026-01-01', 'NOK'))).toBe(false);
  const text = (value: string): Value => ({ kind: 'text', text: value, folded: value.toLowerCase() });
  expect(sameValue(text('Oslo'), text('OSLO'))).toBe(false);
  expect(sameValue(undefined, BLANK)).toBe(true);
  expect(sameValue(undefined, text('x'))).toBe(false);
});
