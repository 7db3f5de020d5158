import fc from 'fast-check';
import { clicks, lead, NOW, smallCharter, smallWorld, stage, standing } from '../charter/charter.fixture';
import { decide } from '../decide/decide';
import type { Look, MovingRecord } from '../record/record';
import { lookKey } from '../gate/gate';
import { encodePopulation } from '../sweep/encode';
import { ImpactDesk } from './desk';

const task = (title: string) => ({ kind: 'task', title, minutes: 60 });
const deal = { kind: 'deal', stage: 'deal-open', days: 30 };
const world = smallWorld();
const charter = smallCharter(world, (json) => {
  Object.assign(json.gates[0]!, { effects: [deal, task('Ring them')] });
  // A second gate makes a deal of what came through the first: one is enough.
  json.gates.push({
    ...structuredClone(json.gates[0]!),
    ...{ key: 'on', name: 'On', from: 'qualified', to: 'new', when: { test: 'all', of: [] } as never },
    ...({ effects: [deal, task('Look again'), task('Tell them')], minDays: 2 } as object),
  });
});
const GATES = charter.rules.lead.gates;

const leads: fc.Arbitrary<MovingRecord[]> = fc
  .array(
    fc.record({
      industry: fc.constantFrom('Brewery', 'Golf course', null),
      at: fc.constantFrom('new', 'qualified', 'out'),
      clicked: fc.integer({ min: 0, max: 4 }),
      days: fc.integer({ min: 0, max: 3 }),
      hasOpenDeal: fc.boolean(),
      looks: fc.subarray(GATES.map(lookKey)),
    }),
    { minLength: 1, maxLength: 70 },
  )
  .map((list) =>
    list.map(({ industry, at, clicked, days, hasOpenDeal, looks }, i) =>
      standing(lead(world, { industry, country: 'NO' }, { id: String(i + 1), activities: clicks(clicked) }), {
        ...{ stage: stage(at), stageSince: NOW - days * 86_400_000, status: at === 'out' ? 'disqualified' : 'open' },
        ...{ hasOpenDeal, looks: new Map(looks.map((look): [string, Look] => [look, 'true'])) },
      }),
    ),
  );

test('as many tasks and deals are foretold as deciding each lead makes: a deal only where none is open, one for each lead', () => {
  fc.assert(
    fc.property(leads, (records) => {
      const population = encodePopulation(
        records.map((record) => ({ record, touched: NOW, closed: record.standing.status === 'open' ? null : NOW })),
        world.fields,
        'lead',
      );
      const desk = new ImpactDesk(population, world, NOW);
      const met = desk.meeting({ inForce: charter.charter, draft: charter.charter }, { which: 'all' });
      const decided = records
        .filter(({ standing: { status } }) => status === 'open')
        .map((record) => decide(charter, record, world, 'regated', NOW));
      expect(met).toMatchObject({
        ok: true,
        answer: {
          tasks: decided.reduce((sum, { tasks = [] }) => sum + tasks.length, 0),
          deals: decided.filter((one) => one.deal !== undefined).length,
        },
      });
    }),
    { numRuns: 200 },
  );
});
