import { encodePopulation, Resident, Sweep } from '@relvik/core';
import fc from 'fast-check';
import { FIELDS } from '../../core/src/condition/conditions.fixture';
import { AS_OF, charter, RATES, records } from '../../core/src/sweep/sweep.fixture';
import { populationFromArrow, populationToArrow } from './population-arrow';

const META = { asOf: AS_OF, version: '7', baseCurrency: 'EUR' };

test('a population comes back from Arrow as it went in, and a charter makes the same of it', () => {
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const before = encodePopulation(list, FIELDS, RATES, 'EUR');
      const { population: after, meta } = populationFromArrow(populationToArrow(before, META));
      expect(meta).toEqual(META);
      for (const part of ['ids', 'arrived', 'closed', 'touched', 'events', 'standing', 'columns'] as const)
        expect([part, after[part]]).toEqual([part, before[part]]);
      const outcome = (population: typeof before) =>
        new Sweep(new Resident(population, AS_OF, 'Europe/Oslo'), { kind: 'on-enact', reach: 'routes' }).run(ready);
      const [was, is] = [outcome(before), outcome(after)];
      expect([is.scores.fit, is.scores.engagement, is.stages, is.outcome]).toEqual([
        was.scores.fit,
        was.scores.engagement,
        was.stages,
        was.outcome,
      ]);
    }),
    { numRuns: 60 },
  );
});

test('what is no population is refused', () => {
  const whole = populationToArrow(encodePopulation([], FIELDS, RATES, 'EUR'), META);
  expect(populationFromArrow(whole).population.size).toBe(0);
  expect(() => populationFromArrow(new TextEncoder().encode('no arrow at all'))).toThrow();
  expect(() => populationFromArrow(whole.subarray(0, 40))).toThrow();
});
