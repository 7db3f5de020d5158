import fc from 'fast-check';
import { ORIGINS } from '../record/origin';
import { fold } from '../record/fold';
import type { Value } from '../record/value';
import { fedValue, type Own, type Saying } from './feed';

const text = (word: string): Value => ({ kind: 'text', text: word, folded: fold(word) });
const value: fc.Arbitrary<Value> = fc.oneof(
  fc.constantFrom('brewery', 'mill', 'farm').map(text),
  fc.constant<Value>({ kind: 'unreadable', raw: 'x', why: 'is no number' }),
);
// Leads' are even, the record's own odd: no two at one instant.
const at = fc.nat(10).map((n) => 2 * n);
const saying = fc.record<Saying>({ value, at, origin: fc.constantFrom('hand', 'trusted', 'untrusted') });
const sayings = fc.uniqueArray(saying, { selector: (one) => one.at, maxLength: 6 });
const own = fc.option(fc.record<Own>({ value, origin: fc.constantFrom(...ORIGINS), at: at.map((n) => n + 1) }), {
  nil: undefined,
});

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
      // What was told directly counts as one more that is said.
      const all: readonly Saying[] = before?.origin === 'direct' ? [...list, before] : list;
      const byAge = [...all].sort((a, b) => a.at - b.at);
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
      const now = first.changed === null ? before : { ...first.changed, at: 21 };
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
  expect(fedValue({ value: brewery.value, origin: 'trusted', at: 1 }, [brewery, mill], 1)).toEqual({
    changed: null,
    beside: mill.value,
  });
  expect(fedValue(undefined, [mill], 1)).toEqual({ changed: { value: mill.value, origin: 'untrusted' }, beside: null });
  const byHand = { value: brewery.value, origin: 'hand', at: 1 } as const;
  expect(fedValue(byHand, [{ ...mill, origin: 'trusted' }], 1).changed).toBeNull();
});

test('what a file told of a company stands against what its leads said before, and gives way to what they say later', () => {
  const told = { value: text('Farm'), origin: 'direct', at: 5 } as const;
  const [before, after] = [3, 7].map((at): Saying => ({ value: text('Mill'), at, origin: 'trusted' }));
  expect(fedValue(told, [before!], 5)).toEqual({ changed: null, beside: null });
  expect(fedValue(told, [before!, after!], 5).changed).toEqual({ value: text('Mill'), origin: 'trusted' });
});
