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

test.each([true, false])(
  'joined from a way in that is trusted: %s; blanks erase nothing, and all that differs is taken or stands beside',
  (trusted) => {
    fc.assert(
      fc.property(record, record, (known, inquiry) => {
        const { values, changed, beside } = joinInquiry(known, inquiry, trusted);
        for (const field of FIELDS.keys()) {
          // Tags are added, see choices.spec.
          if (field === 'tags') continue;
          const [before, said] = [known.get(field) ?? BLANK, inquiry.get(field) ?? BLANK];
          const differs = said.kind !== 'blank' && !sameValue(before, said);
          const isGood = before.kind !== 'blank' && before.kind !== 'unreadable';
          const taken = differs && (before.kind === 'blank' || (trusted && !(isGood && said.kind === 'unreadable')));
          expect([field, values.get(field)]).toEqual([field, taken ? said : known.get(field)]);
          expect([field, changed.includes(field), beside.includes(field)]).toEqual([field, taken, differs && !taken]);
        }
        expect(joinInquiry(values, inquiry, trusted).changed).toEqual([]);
      }),
    );
  },
);

test('values are the same by what they say: not by the day an amount was entered, but by case and currency', () => {
  const money = (enteredOn: string, currency = 'EUR'): Value => ({ kind: 'money', minor: 100, currency, enteredOn });
  expect(sameValue(money('2026-01-01'), money('2026-02-02'))).toBe(true);
  expect(sameValue(money('2026-01-01'), money('2026-01-01', 'NOK'))).toBe(false);
  const text = (value: string): Value => ({ kind: 'text', text: value, folded: value.toLowerCase() });
  expect(sameValue(text('Oslo'), text('OSLO'))).toBe(false);
  expect(sameValue(undefined, BLANK)).toBe(true);
  expect(sameValue(undefined, text('x'))).toBe(false);
});
