import fc from 'fast-check';
import type { Wording } from '../wording/subject-words';
import { namesFrom, NO_NAMES } from '../wording/names';
import { charter as anyCharter } from '../sweep/sweep.fixture';
import type { Charter } from './charter';
import { SMALL_CHARTER } from './charter.fixture';
import { readCharter } from './read-charter';
import { changesBetween } from './changes-between';

function charter(change: (json: typeof SMALL_CHARTER) => unknown = () => undefined): Charter {
  const json = structuredClone(SMALL_CHARTER);
  change(json);
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
}

const lists = {
  ...NO_NAMES,
  verdicts: SMALL_CHARTER.verdicts,
  reps: [{ key: 'ada', name: 'Ada Lindqvist' }],
  teams: [{ key: 'north', name: 'Team north' }],
  queues: [{ key: 'projects', name: 'Projects' }],
};
const wording: Wording = { names: namesFrom(lists), fields: new Map(), baseCurrency: 'EUR' };
const between = (change: (json: typeof SMALL_CHARTER) => unknown) =>
  changesBetween(charter(), charter(change), wording).map(({ what, from, to }) => `${what}: ${from ?? ''} → ${to}`);

test('two charters that are the same differ in nothing', () => {
  expect(between(() => undefined)).toEqual([]);
});

test('points, cuts, verdicts, targets and order are named with what they were', () => {
  expect(
    between((json) => {
      json.scoreSets[0]!.signals[0]!.points = 20;
      json.scoreSets[0]!.grid.fit.cuts[1] = 65;
      json.scoreSets[0]!.grid.cells[1]![0] = 'hand-over';
      const { routes } = json.streams[0]!;
      routes[1]!.to = { kind: 'queue', queue: 'projects' };
      routes.push(routes.shift()!);
    }),
  ).toEqual([
    'Points for “A trade we serve”: +60 → +20',
    'Cut between B and A: 70 → 65',
    'Verdict of B quiet: Nurture → Hand over',
    'Route “Nordics” leads to: Team north, round robin → queue Projects',
    'Order of routes: Large deals, Nordics, D-A-CH → Nordics, D-A-CH, Large deals',
  ]);
});

test('what is new and what is taken out', () => {
  expect(
    between((json) => {
      json.scoreSets[0]!.signals.pop();
      json.streams[0]!.routes.pop();
      json.streams[0]!.routes.push({ ...json.streams[0]!.routes[0]!, key: 'extra', name: 'Extra' });
    }),
  ).toEqual([
    'Signal “Mail clicked”: +20 → taken out',
    'New route:  → 3. Extra: deal_value from 20,000, to Ada Lindqvist',
    'Route “D-A-CH”: there → taken out',
  ]);
});

test('whatever differs is said: no change is silent', () => {
  fc.assert(
    fc.property(anyCharter, anyCharter, ({ charter: before }, { charter: after }) => {
      const differ = JSON.stringify(before) !== JSON.stringify(after);
      expect(changesBetween(before, after, wording).length > 0).toBe(differ);
      expect(changesBetween(before, before, wording)).toEqual([]);
    }),
    { numRuns: 60 },
  );
});
