import fc from 'fast-check';
import type { StageKey } from '../record/keys';
import { concordanceOf, type Judgement } from './concordance';

const STAGES = ['trial', 'plan', 'rest'] as StageKey[];
const judgement = fc.record({
  rule: fc.constantFrom(...STAGES, null),
  person: fc.constantFrom(...STAGES, null),
  by: fc.constantFrom('Ada', 'Bo'),
  at: fc.integer({ min: Date.parse('2026-03-01T00:00:00Z'), max: Date.parse('2026-04-30T00:00:00Z') }),
});

test('every decision is counted once in each table, and agreement is what lies where both said the same', () => {
  fc.assert(
    fc.property(fc.array(judgement, { maxLength: 40 }), (all) => {
      const found = concordanceOf(all, STAGES, 'Europe/Oslo');
      const sum = (numbers: readonly number[]): number => numbers.reduce((a, b) => a + b, 0);
      expect(sum(found.counts.flat())).toBe(all.length);
      for (const list of [found.byPerson, found.byWeek]) expect(sum(list.map((one) => one.all))).toBe(all.length);
      const same = sum(found.person.map((stage, row) => found.counts[row]?.[found.rule.indexOf(stage)] ?? 0));
      expect(sum(found.byWeek.map((one) => one.same))).toBe(same);
      expect(found.same === null ? 0 : Math.round(found.same.share * found.same.of)).toBe(same);
      // No row or column is empty.
      for (const row of found.counts) expect(sum(row)).toBeGreaterThan(0);
    }),
  );
});

test('stages stand in their order, refusals last; weeks begin on Monday at midnight of the zone', () => {
  const at = (time: string): number => Date.parse(time);
  const all: Judgement[] = [
    { rule: 'plan' as StageKey, person: null, by: 'Bo', at: at('2026-03-29T21:59:00Z') },
    { rule: 'trial' as StageKey, person: 'trial' as StageKey, by: 'Ada', at: at('2026-03-29T22:00:00Z') },
    { rule: null, person: 'plan' as StageKey, by: 'Ada', at: at('2026-04-01T12:00:00Z') },
  ];
  // In Oslo summer time began on 29 March 2026: Monday the 30th begins at 22:00 UTC.
  expect(concordanceOf(all, STAGES, 'Europe/Oslo')).toMatchObject({
    rule: ['trial', 'plan', null],
    person: ['trial', 'plan', null],
    counts: [
      [1, 0, 0],
      [0, 0, 1],
      [0, 1, 0],
    ],
    byPerson: [
      { of: 'Ada', same: 1, all: 2 },
      { of: 'Bo', same: 0, all: 1 },
    ],
    byWeek: [
      { of: '2026-03-23', same: 0, all: 1 },
      { of: '2026-03-30', same: 1, all: 2 },
    ],
  });
  expect(concordanceOf([], STAGES, 'Europe/Oslo').same).toBeNull();
});
