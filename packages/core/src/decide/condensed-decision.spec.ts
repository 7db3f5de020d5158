import { conditionOf } from '../gate/gate';
import { entryOf } from '../gate/pipeline';
import fc from 'fast-check';
import { condenseDecision, restoreDecision } from './condensed-decision';
import { decide } from './decide';
import { OCCASIONS } from '../record/occasion';
import { asNew, records } from '../sweep/rows.fixture';
import { AS_OF, busyCharter, charter, WORLD } from '../sweep/sweep.fixture';

const written = (document: unknown): string => JSON.stringify(document);

test('a condensed decision gives the whole one back, by the charter that made it, after it was written and read', () => {
  fc.assert(
    fc.property(fc.oneof(charter, busyCharter), records, fc.constantFrom(...OCCASIONS), (ready, list, occasion) => {
      for (const { record } of list) {
        const decision = decide(ready, record, WORLD, occasion, AS_OF);
        const kept = JSON.parse(written(condenseDecision(decision))) as ReturnType<typeof condenseDecision>;
        expect(restoreDecision(kept, ready.charter)).toEqual(JSON.parse(written(decision)));
      }
    }),
    { numRuns: 60 },
  );
});

test('another charter than the one that decided is noticed where it asks otherwise', () => {
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const asking = ready.charter.gates.find((gate) => gate.on && gate.from === entryOf(ready.charter, 'lead'));
      fc.pre(asking !== undefined && list.length > 0);
      const [{ record }] = list as [(typeof list)[number]];
      const decision = decide(ready, asNew(record), WORLD, 'created', AS_OF);
      const gates = ready.charter.gates.map((gate) => ({
        ...gate,
        ...{
          requiredFields: [],
          minDays: 0,
          minHours: 0,
          effects: [],
          when: { test: 'all', of: [conditionOf(gate), conditionOf(gate)] } as const,
        },
      }));
      const looked = decision.gates.looked.some(({ account }) => /"test":"one"/.test(written(account)));
      fc.pre(looked);
      expect(() => restoreDecision(condenseDecision(decision), { ...ready.charter, gates })).toThrow(/asked otherwise/);
    }),
    { numRuns: 50 },
  );
});
