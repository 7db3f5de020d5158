import fc from 'fast-check';
import { fold } from '../record/fold';
import type { Signal } from '../signal/signal';
import { pointsByValue, withPointsFor } from './points-table';

const VALUES = ['Brewery', 'Mill', 'Farm', 'Port'];
const base = { name: 's', axis: 'fit', on: true, group: null } as const;
const forValues = (key: string, points: number, values: readonly string[], rest: Partial<Signal> = {}): Signal =>
  ({
    ...{ ...base, key, points, kind: 'attribute' },
    when: { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values },
    ...rest,
  }) as Signal;
const other: Signal = {
  ...{ ...base, key: 'other', points: 3, kind: 'attribute' },
  when: { test: 'filled', field: 'email' } as never,
};

const some = fc.uniqueArray(fc.constantFrom(...VALUES), { minLength: 1, maxLength: 3 });
const points = fc.integer({ min: -3000, max: 3000 }).map((n) => n / 100);
const signals = fc
  .array(fc.tuple(points, some), { maxLength: 5 })
  .map((list) => [other, ...list.map(([n, values], i) => forValues(`s${i}`, n, values))]);

test('a value gets the points typed for it, whatever signals named it before; other values and signals keep theirs', () => {
  fc.assert(
    fc.property(signals, fc.constantFrom(...VALUES), fc.option(points, { nil: null }), (before, value, typed) => {
      const after = withPointsFor(before, 'industry', value, typed, () => ({ key: 'new', name: value }));
      const [was, is] = [pointsByValue(before, 'industry'), pointsByValue(after, 'industry')];
      expect(is.get(fold(value)) ?? 0).toBe(typed ?? 0);
      for (const one of VALUES) if (one !== value) expect(is.get(fold(one))).toBe(was.get(fold(one)));
      expect(after).toContain(other);
      expect(new Set(after.map(({ key }) => key)).size).toBe(after.length);
      // No signal is left that names nothing.
      for (const one of after)
        if (one.kind === 'attribute' && one.when.test === 'one-of') expect(one.when.values).not.toEqual([]);
    }),
  );
});

test('a signal of its own keeps key and name; equal points stand together; off, in a group or of the other axis they stand in no table', () => {
  const fresh = () => ({ key: 'new', name: 'Industry: Mill' });
  const own = [forValues('brew', 20, ['Brewery'])];
  expect(withPointsFor(own, 'industry', 'brewery', 12, fresh)).toEqual([{ ...own[0], points: 12 }]);
  expect(withPointsFor(own, 'industry', 'Mill', 20, fresh)).toEqual([forValues('brew', 20, ['Brewery', 'Mill'])]);
  expect(withPointsFor(own, 'industry', 'Mill', 7, fresh)).toEqual([
    own[0],
    forValues('new', 7, ['Mill'], { name: 'Industry: Mill' }),
  ]);
  expect(withPointsFor(own, 'industry', 'Brewery', null, fresh)).toEqual([]);
  const elsewhere = [
    forValues('a', 1, ['Mill'], { on: false }),
    forValues('b', 2, ['Mill'], { group: 'g' }),
    forValues('c', 4, ['Mill'], { axis: 'engagement' }),
  ];
  expect(pointsByValue(elsewhere, 'industry').size).toBe(0);
});
