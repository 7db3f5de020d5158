import fc from 'fast-check';
import { roundPoints, toMicro } from '../signal/points';
import { total } from './total';

const bounds = { least: 0, most: 100, decimals: 0 };
const points = fc.integer({ min: -20_000, max: 20_000 }).map((n) => n / 100);

test('the worked example of the design: 134 − 10 = 124, held at 100', () => {
  expect(total([134, -10].map(toMicro), bounds)).toEqual({ positive: 134, negative: -10, sum: 124, score: 100 });
});

test('a sum never depends on the order of its parts, nor on binary fractions', () => {
  fc.assert(
    fc.property(fc.array(points), fc.constantFrom(0, 1, 2), (list, decimals) => {
      const at = { least: -1000, most: 1000, decimals };
      const forth = total(list.map(toMicro), at);
      expect(total([...list].reverse().map(toMicro), at)).toEqual(forth);
      const exact = list.reduce((sum, one) => sum + Math.round(one * 100), 0);
      if (decimals === 2) expect(forth.sum).toBe(exact / 100);
      // The numbers shown add up, and the sum is shown before it is rounded.
      const added = toMicro(forth.positive) + toMicro(forth.negative);
      expect(roundPoints(added, decimals)).toBe(forth.sum);
      expect(forth.score).toBe(Math.min(1000, Math.max(-1000, forth.sum)));
    }),
  );
});

test.each([
  [0.5, 0, 1],
  [-0.5, 0, -1],
  [2.5, 0, 3],
  [-2.5, 0, -3],
  [1.005, 2, 1.01],
  [0.449, 1, 0.4],
])('%d rounded to %d decimals is %d: halves go away from zero', (value, decimals, rounded) => {
  expect(roundPoints(toMicro(value), decimals)).toBe(rounded);
});

test('parts that would not add up as shown get the decimals they need', () => {
  expect(total([1.4, -0.6].map(toMicro), bounds)).toEqual({ positive: 1.4, negative: -0.6, sum: 1, score: 1 });
  expect(total([50.37, -0.2].map(toMicro), bounds)).toEqual({ positive: 50, negative: 0, sum: 50, score: 50 });
});

test('nothing gives 0, and a score is held at the lower bound too', () => {
  expect(total([], bounds)).toEqual({ positive: 0, negative: 0, sum: 0, score: 0 });
  expect(total([toMicro(-30)], bounds)).toEqual({ positive: 0, negative: -30, sum: -30, score: 0 });
});
