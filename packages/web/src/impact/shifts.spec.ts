import { type Flow, namesFrom, nameListsOf, type OwnerImpact, type RepKey } from '@relvik/core';
import fc from 'fast-check';
import { smallWorld } from '../../../core/src/charter/charter.fixture';
import { CHARTER } from '../page.fixture';
import { loadShifts, stageShifts, standing, territoryShifts } from './shifts';

const world = smallWorld();
const names = namesFrom(nameListsOf(CHARTER, world));
const change = (flows: readonly Flow[]) => ({ changed: 0, flows });

const labels = ['', 'nordics', 'dach', ...Array.from({ length: 20 }, (_, i) => `t${i}`)];
const flows = fc.array(
  fc.record({ from: fc.constantFrom(...labels), to: fc.constantFrom(...labels), count: fc.nat(50) }),
  { maxLength: 60 },
);

test('of a picture’s rows none is empty, at most nine stand there, open ground among them, and nothing left out changes more than what is shown', () => {
  fc.assert(
    fc.property(flows, (list) => {
      const rows = territoryShifts(change(list), names);
      expect(rows.length).toBeLessThanOrEqual(9);
      for (const { before, after } of rows) expect(before + after).toBeGreaterThan(0);
      const shown = new Set(rows.map(({ key }) => key));
      const ground = rows.filter(({ key }) => key !== '');
      const least = Math.min(...ground.map(({ before, after }) => Math.abs(after - before)));
      for (const label of labels) {
        const counts = standing(change(list), label);
        if (rows.length < 9 || label === '')
          expect([label, shown.has(label)]).toEqual([label, counts.before + counts.after > 0]);
        else if (!shown.has(label)) expect(Math.abs(counts.after - counts.before)).toBeLessThanOrEqual(least);
      }
    }),
  );
});

test('what one label has before and after is what flows out of it and into it', () => {
  fc.assert(
    fc.property(flows, (list) => {
      const all = labels.map((label) => standing(change(list), label));
      const total = list.reduce((sum, { count }) => sum + count, 0);
      expect(all.reduce((sum, { before }) => sum + before, 0)).toBe(total);
      expect(all.reduce((sum, { after }) => sum + after, 0)).toBe(total);
    }),
  );
});

test('stages stand along their path, territories by name with open ground last, the bay before people by name', () => {
  const moved = [
    { from: 'out', to: 'new', count: 2 },
    { from: 'qualified', to: 'qualified', count: 4 },
  ];
  expect(stageShifts(change(moved), CHARTER, CHARTER, names).map(({ name, change: by }) => [name, by])).toEqual([
    ['New', '+2'],
    ['Qualified', null],
    ['Disqualified', '−2'],
  ]);
  const land = [
    { from: '', to: 'nordics', count: 1 },
    { from: 'dach', to: 'dach', count: 3 },
  ];
  expect(territoryShifts(change(land), names).map(({ name }) => name)).toEqual(['D-A-CH', 'Nordics', 'Open ground']);
  const load = (rep: string, before: number, after: number, limit: number | null) => ({
    rep: rep as RepKey,
    before,
    after,
    limit,
  });
  const owners: OwnerImpact = {
    owners: change([{ from: 'bay', to: 'owner:bo', count: 5 }]),
    course: { before: 0, after: 5 },
    loads: [load('bo', 1, 6, null), load('ada', 2, 2, 2), load('cai', 0, 0, null)],
    leads: [],
  };
  expect(loadShifts(owners, names).map(({ name, change: by, limit }) => [name, by, limit])).toEqual([
    ['Bay', '−5', null],
    ['Ada Lindqvist', null, 2],
    ['Bo Rask', '+5', null],
  ]);
});
