import fc from 'fast-check';
import type { RepKey } from '../record/keys';
import { jainIndex } from './jain';
import { type Placement, sharesOf } from './shares';

const rep = (key: string): RepKey => key as RepKey;
const given = (key: string | null, ...skipped: [string, 'away' | 'at-limit'][]): Placement => ({
  rep: key === null ? null : rep(key),
  skipped: skipped.map(([who, why]) => ({
    rep: rep(who),
    exclusion: why === 'away' ? { why } : { why, open: 2, limit: 2 },
  })),
});

test('Jain’s index: one of n has all, all have the same, 1 to 5, and properties of the paper', () => {
  expect(jainIndex([...Array<number>(20).fill(1), ...Array<number>(80).fill(0)])).toBeCloseTo(0.2, 12);
  expect(jainIndex([7, 7, 7])).toBe(1);
  expect(jainIndex([1, 2, 3, 4, 5])).toBeCloseTo(0.8181818182, 10);
  expect([jainIndex([]), jainIndex([0, 0])]).toEqual([null, null]);
  // It does not depend on the unit, lies between 1/n and 1, and is 1 only where all have the same.
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 30 }),
      fc.integer({ min: 1, max: 50 }),
      (xs, unit) => {
        const index = jainIndex(xs);
        fc.pre(index !== null);
        expect(index).toBeGreaterThanOrEqual(1 / xs.length - 1e-12);
        expect(index).toBeLessThanOrEqual(1 + 1e-12);
        expect(jainIndex(xs.map((x) => x * unit))).toBeCloseTo(index, 9);
        expect(index > 1 - 1e-12).toBe(xs.every((x) => x === xs[0]));
      },
    ),
  );
});

test('twelve leads by hand: weights 1, 1 and ½ stand for 4.8, 4.8 and 2.4, and what was passed over tells the rest', () => {
  const sharers = [
    { rep: rep('ada'), weight: 1 },
    { rep: rep('bo'), weight: 1 },
    { rep: rep('newcomer'), weight: 0.5 },
  ];
  const placements = [
    ...Array.from({ length: 6 }, (_, i) => given('ada', ...(i < 3 ? [['bo', 'away'] as [string, 'away']] : []))),
    ...Array.from({ length: 3 }, () => given('bo')),
    given('newcomer', ['bo', 'at-limit']),
    given('newcomer'),
    given('cai'),
    given(null, ['ada', 'at-limit'], ['bo', 'at-limit']),
  ];
  const { given: count, waited, shares, index } = sharesOf(sharers, placements);
  expect([count, waited]).toEqual([12, 1]);
  expect(shares.map(({ rep: who, should, got }) => [who, should, got])).toEqual([
    ['ada', 4.8, 6],
    ['bo', 4.8, 3],
    ['newcomer', 2.4, 2],
    ['cai', 0, 1],
  ]);
  expect(shares[1]?.passedOver).toEqual([
    { why: 'away', leads: 3 },
    { why: 'at-limit', leads: 2 },
  ]);
  // 6, 3 and 2 / ½ = 4: 13² / (3 · (36 + 9 + 16)).
  expect(index).toBeCloseTo(169 / 183, 12);
});

test('what all should have had is what was given, however weights and turns lie', () => {
  const who = fc.constantFrom('a', 'b', 'c', 'd');
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.record({ rep: who.map(rep), weight: fc.integer({ min: 1, max: 900 }).map((w) => w / 100) }), {
        selector: (one) => one.rep,
        minLength: 1,
      }),
      fc.array(fc.record({ rep: fc.option(who.map(rep)), skipped: fc.constant([]) }), { maxLength: 60 }),
      (sharers, placements) => {
        const { given: count, waited, shares } = sharesOf(sharers, placements);
        expect(shares.reduce((sum, { should }) => sum + should, 0)).toBeCloseTo(count, 6);
        expect(shares.reduce((sum, { got }) => sum + got, 0)).toBe(count);
        expect(count + waited).toBe(placements.length);
      },
    ),
  );
});
