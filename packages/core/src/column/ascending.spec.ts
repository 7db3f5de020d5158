import fc from 'fast-check';
import { ascending } from './ascending';

/** Lists whose numbers lie in one digit, in several, at the end of 32 bits, and wider apart. */
const lists = fc.oneof(
  ...[3, 70_000, 2 ** 31, 2 ** 33, Number.MAX_SAFE_INTEGER].map((far) =>
    fc.array(fc.oneof({ weight: 5, arbitrary: fc.integer({ min: -far, max: far - 1 }) }, fc.constant(NaN))),
  ),
);

test('places come in the order of their numbers, those of one number in their own', () => {
  fc.assert(
    fc.property(lists, (list) => {
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
