import fc from 'fast-check';
import { bandOf, showBand } from './band';

const cuts = fc
  .uniqueArray(fc.integer({ min: -100, max: 200 }), { minLength: 1, maxLength: 5 })
  .map((list) => list.sort((a, b) => a - b));

test('bands have no holes and no overlaps, and a cut belongs to the band above it', () => {
  fc.assert(
    fc.property(cuts, fc.integer({ min: -150, max: 250 }), (at, score) => {
      const band = bandOf(score, at);
      expect(band === 0 || score >= (at[band - 1] ?? NaN)).toBe(true);
      expect(band === at.length || score < (at[band] ?? NaN)).toBe(true);
      at.forEach((cut, i) => expect(bandOf(cut, at)).toBe(i + 1));
    }),
  );
});

test('bands are shown with the ends that belong to them', () => {
  expect([0, 1, 2].map((band) => showBand(band, [50, 75]))).toEqual(['below 50', '[50, 75)', '75 and above']);
});
