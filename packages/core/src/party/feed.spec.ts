import fc from 'fast-check';
import { ORIGINS } from '../record/origin';
import { fold } from '../record/fold';
import type { Value } from '../record/value';
import { fedValue, type Kept, type Saying } from './feed';

const text = (word: string): Value => ({ kind: 'text', text: word, folded: fold(word) });
const value: fc.Arbitrary<Value> = fc.oneof(
  fc.constantFrom('brewery', 'mill', 'farm').map(text),
  fc.constant<Value>({ kind: 'unreadable', raw: 'x', why: 'is no number' }),
);
const saying = fc.record<Saying>({ value, at: fc.nat(20), origin: fc.constantFrom(...ORIGINS) });
const sayings = fc.uniqueArray(saying, { selector: ({ at }) => at, maxLength: 6 });
const own = fc.option(fc.record<Kept>({ value, origin: fc.constantFrom(...ORIGINS) }), { nil: undefined });

test('a hand’s value stays; else the newest trusted one that can be read, else the first untrusted; in whatever order they stand', () => {
  fc.assert(
    fc.property(own, sayings, fc.nat(20), (before, list, since) => {
      const { changed } = fedValue(before, list, since);
      expect(fedValue(before, [...list].reverse(), since)).toEqual(fedValue(before, list, since));
      const after = changed?.value ?? before?.value;
      if (before?.origin === 'hand' || list.length === 0) {
        expect(changed).toBeNull();
        return;
      }
      const byAge = [...list].sort((a, b) => a.at - b.at);
      const readable = byAge.filter((one) => one.value.kind !== 'unreadable');
      const trusted = readable.filter(({ origin }) => origin !== 'untrusted');
      if (trusted.length > 0) expect(after).toEqual(trusted.at(-1)!.value);
      else if (readable.length > 0) expect(after).toEqual(readable[0]!.value);
      else expect(after?.kind).toBe('unreadable');
      // A fed value does not count as set by hand, so the next lead may replace it.
      expect(changed?.origin).not.toBe('hand');
    }),
  );
});

test('fed once, nothing changes until something new is said; what untrusted ways say otherwise stands beside once', () => {
  fc.assert(
    fc.property(own, sayings, (before, list) => {
      const first = fedValue(before, list, -1);
      const now = first.changed ?? before;
      expect(fedValue(now, list, 20)).toEqual({ changed: null, beside: null });
      if (first.beside !== null) {
        expect(first.beside).not.toEqual(now?.value);
        expect(list).toContainEqual(expect.objectContaining({ origin: 'untrusted', value: first.beside }));
      }
    }),
  );
});

test('a public form does not rewrite what a trusted way in said of a company, and fills what is blank', () => {
  const brewery = { value: text('Brewery'), at: 1, origin: 'trusted' } as const;
  const mill = { value: text('Mill'), at: 2, origin: 'untrusted' } as const;
  expect(fedValue({ value: brewery.value, origin: 'trusted' }, [brewery, mill], 1)).toEqual({
    changed: null,
    beside: mill.value,
  });
  expect(fedValue(undefined, [mill], 1)).toEqual({ changed: { value: mill.value, origin: 'untrusted' }, beside: null });
  expect(fedValue({ value: brewery.value, origin: 'hand' }, [{ ...mill, origin: 'trusted' }], 1).changed).toBeNull();
});
