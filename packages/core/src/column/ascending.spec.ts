import fc from 'fast-check';
import { ascending } from './ascending';

const whole = fc.oneof(
  fc.integer({ min: -3, max: 3 }),
  fc.integer({ min: -70_000, max: 70_000 }),
  fc.maxSafeInteger(),
  fc.constant(NaN),
);

test('places come in the order of their numbers, those of one number in their own', () => {
  fc.assert(
    fc.property(fc.array(whole), (list) => {
      const filled = list.flatMap((value, i) => (Number.isNaN(value) ? [] : [i]));
      const sorted = filled.sort((a, b) => (list[a] as number) - (list[b] as number) || a - b);
      expect([...ascending(Float64Array.from(list))]).toEqual(sorted);
    }),
  );
});

test('instants of years, whose differences take three digits', () => {
  const hour = 3_600_000;
  expect([...ascending(Float64Array.of(1.8e12, 1.5e12, 1.8e12 - hour, 1.5e12 + 1))]).toEqual([1, 3, 2, 0]);
});
