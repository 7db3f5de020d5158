import { createHash } from 'node:crypto';
import { SMALL_CHARTER } from '../../core/src/charter/charter.fixture';
import { type Charter, encodePopulation, Resident, Sweep } from '@relvik/core';
import fc from 'fast-check';
import { FIELDS } from '../../core/src/condition/conditions.fixture';
import { records } from '../../core/src/sweep/rows.fixture';
import { AS_OF, charter, WORLD } from '../../core/src/sweep/sweep.fixture';
import { RecordBatchReader } from 'apache-arrow';
import { populationFromArrow } from './population-from-arrow';
import { populationToArrow } from './population-to-arrow';

const META = {
  asOf: AS_OF,
  version: '7',
  past: [{ number: 3, charter: { ...SMALL_CHARTER, name: 'Third' } as unknown as Charter }],
};

test('a population comes back from Arrow as it went in, and a charter makes the same of it', () => {
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const before = encodePopulation(list, FIELDS);
      const { population: after, meta } = populationFromArrow(populationToArrow(before, META));
      expect(meta).toEqual(META);
      for (const part of ['ids', 'arrived', 'closed', 'touched', 'events', 'standing', 'columns'] as const)
        expect([part, after[part]]).toEqual([part, before[part]]);
      const outcome = (population: typeof before) =>
        new Sweep(new Resident(population, AS_OF, ready.charter, WORLD), {
          kind: 'on-enact',
          reach: 'routes',
        }).run(ready);
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

/** Everything in it as text, arrays of numbers by their digest. */
const told = (value: unknown): string =>
  JSON.stringify(value, (_, part: unknown) => {
    if (ArrayBuffer.isView(part))
      return createHash('sha256')
        .update(new Uint8Array(part.buffer, part.byteOffset, part.byteLength))
        .digest('hex');
    return part instanceof Map ? [...part] : part;
  });

test('many records come in several batches, and are the same population', () => {
  const some = fc.sample(records, { numRuns: 20, seed: 5 }).flat();
  expect(some.length).toBeGreaterThan(100);
  const many = Array.from({ length: 150_000 }, (_, i) => {
    const one = some[i % some.length]!;
    return { ...one, record: { ...one.record, id: String(i + 1) } };
  });
  const before = encodePopulation(many, FIELDS);
  const bytes = populationToArrow(before, META);
  expect([...RecordBatchReader.from(bytes)].map((batch) => batch.numRows)).toEqual([65_536, 65_536, 18_928]);
  const after = populationFromArrow(bytes).population;
  expect(told(after)).toBe(told({ ...after, ...before }));
});

test('what is no population is refused', () => {
  const whole = populationToArrow(encodePopulation([], FIELDS), META);
  expect(populationFromArrow(whole).population.size).toBe(0);
  expect(() => populationFromArrow(new TextEncoder().encode('no arrow at all'))).toThrow();
  expect(() => populationFromArrow(whole.subarray(0, 40))).toThrow();
});
