import fc from 'fast-check';
import { wilson } from './wilson';

test('the interval is that of published examples', () => {
  // R. G. Newcombe, Two-sided confidence intervals for the single proportion, Statistics in Medicine 17 (1998), 857–872, table I,
  // method 3; computed again with R's prop.test(correct = FALSE).
  const examples = [
    [81, 263, 0.25529, 0.36621],
    [15, 148, 0.06239, 0.16049],
    [0, 20, 0, 0.16113],
    [1, 29, 0.00611, 0.17176],
  ] as const;
  for (const [hits, of, low, high] of examples) {
    const interval = wilson(hits, of);
    expect([interval?.low, interval?.high].map((bound) => bound?.toFixed(5))).toEqual([
      low.toFixed(5),
      high.toFixed(5),
    ]);
  }
  expect(wilson(0, 0)).toBeNull();
});

test('it holds the share, mirrors with it, and narrows as the number grows', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5000 }), fc.nat(5000), (of, some) => {
      const hits = some % (of + 1);
      const { low, high, share } = wilson(hits, of)!;
      expect(0 <= low && low <= share && share <= high && high <= 1).toBe(true);
      const mirrored = wilson(of - hits, of)!;
      expect(mirrored.low).toBeCloseTo(1 - high, 12);
      expect(mirrored.high).toBeCloseTo(1 - low, 12);
      const wider = wilson(hits * 4, of * 4)!;
      expect(wider.high - wider.low).toBeLessThan(high - low);
    }),
  );
});
