import fc from 'fast-check';
import { smallWorld, stage, SMALL_CHARTER, readyCharter } from '../charter/charter.fixture';
import { lookKey } from '../gate/gate';
import { appraise } from '../decide/decide';
import { tasksMade } from '../decide/tasks-made';
import { readValue } from '../record/value';
import { withTags } from '../record/catalogue';
import type { Look, MovingRecord } from '../record/record';
import type { Field } from '../record/field';
import { hasBit } from '../column/bits';
import { encodePopulation } from './encode';
import { Resident } from './resident';
import { Sweep } from './sweep';

const NOW = Date.parse('2026-03-02T09:00:00Z');
const FIELDS: readonly Field[] = [
  { key: 'deal.size', name: 'Size', type: 'number', options: [], retired: false },
  { key: 'deal.note', name: 'Note', type: 'text', options: [], retired: false },
  { key: 'company.size', name: 'Size', type: 'number', options: [], retired: false },
];
const small = smallWorld();
const world = { ...small, fields: new Map([...small.fields, ...withTags(FIELDS)]) };
const from = (field: string, at: number) => ({
  test: 'range',
  subject: { kind: 'field', field },
  from: { at: String(at), included: true },
  to: null,
});
const tagged = { test: 'any-of', subject: { kind: 'field', field: 'deal.tags' }, values: ['Weighty'] };
const gate = (key: string, source: string, target: string, when: object, more: object = {}) => ({
  ...{ key, name: key, from: source, to: target, on: true, when, ...more },
});
const task = (title: string) => ({ kind: 'task', title, minutes: 60 });
const GATES = [
  gate('weighty', 'deal-open', 'deal-offer', from('deal.size', 4), {
    effects: [{ kind: 'tag', tag: 'Weighty' }, task('Survey')],
  }),
  gate('large-firm', 'deal-open', 'deal-offer', from('company.size', 6), {
    effects: [{ kind: 'set', field: 'deal.note', value: 'firm' }, task('Thank them'), task('Tell the press')],
  }),
  gate('won', 'deal-offer', 'deal-won', { test: 'all', of: [tagged, from('deal.size', 8)] }, { minDays: 1 }),
  gate('lost', 'deal-offer', 'deal-lost', from('deal.size', 9), {
    requiredFields: ['deal.note'],
    decider: { kind: 'asks', withoutOwner: null, alternatives: [] },
  }),
];
const charter = readyCharter({ ...SMALL_CHARTER, gates: [...SMALL_CHARTER.gates, ...GATES] }, world);

const value = (key: string, raw: string | null) => {
  const field = world.fields.get(key);
  if (field === undefined) throw new Error(key);
  return readValue(field, raw, '2026-03-02');
};
const number = fc.option(fc.oneof(fc.integer({ min: 0, max: 10 }).map(String), fc.constant('many')));
const deals: fc.Arbitrary<MovingRecord[]> = fc
  .array(
    fc.record({
      size: number,
      firm: number,
      note: fc.constantFrom('', 'x'),
      tags: fc.constantFrom('', 'Weighty', 'Other'),
      at: fc.constantFrom('deal-open', 'deal-offer', 'deal-won'),
      days: fc.integer({ min: 0, max: 3 }),
      looks: fc.subarray(charter.rules.deal.gates.map(lookKey)),
    }),
    { minLength: 1, maxLength: 70 },
  )
  .map((list) =>
    list.map(({ size, firm, note, tags, at, days, looks }, i): MovingRecord => ({
      ...{ id: String(i + 1), kind: 'deal', arrived: NOW - 10 * 86_400_000, way: null, activities: [] },
      values: new Map([
        ['deal.size', value('deal.size', size)],
        ['deal.note', value('deal.note', note)],
        ['deal.tags', value('deal.tags', tags)],
      ]),
      tied: new Map([['company.size', value('company.size', firm)]]),
      standing: {
        status: at === 'deal-won' ? 'won' : 'open',
        stage: stage(at),
        stageSince: NOW - days * 86_400_000,
        looks: new Map(looks.map((look): [string, Look] => [look, 'true'])),
        ...{ cameInto: null, place: null, pin: null },
      },
    })),
  );

test('gates of deals are swept as each deal is decided: stage, what is asked, who is open afterwards, and how many tasks are made', () => {
  fc.assert(
    fc.property(deals, (records) => {
      const population = encodePopulation(
        records.map((record) => ({ record, touched: NOW, closed: record.standing.status === 'open' ? null : NOW })),
        world.fields,
        'deal',
      );
      const resident = new Resident(population, NOW, charter.charter, world);
      const swept = new Sweep(resident, { kind: 'on-enact', reach: 'gates' }).run(charter);
      records.forEach((record, i) => {
        const decided = appraise(charter, record, world, 'regated', NOW);
        const at = swept.rules.stages.findIndex((_, s) => hasBit(swept.stages[s]!, i));
        expect({
          stage: swept.rules.stages[at]?.key,
          asks: hasBit(swept.asked, i),
          open: hasBit(swept.open, i),
          tasks: swept.made.reduce((sum, made) => sum + (hasBit(made.records, i) ? made.tasks : 0), 0),
        }).toEqual({
          stage: decided.stage,
          asks: decided.gates.asks.length > 0,
          open: decided.status === 'open',
          tasks: tasksMade(charter, 'deal', decided, null, null, world).length,
        });
      });
    }),
    { numRuns: 150 },
  );
});
