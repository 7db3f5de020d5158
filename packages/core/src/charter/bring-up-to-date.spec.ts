import fc from 'fast-check';
import { SMALL_CHARTER } from './charter.fixture';
import { bringUpToDate } from './bring-up-to-date';
import type { Charter } from './charter';
import { readCharter } from './read-charter';

const reading = readCharter(SMALL_CHARTER);
const BASE = (reading.ok ? reading.charter : null) as Charter;
type Loose = { -readonly [K in keyof typeof SMALL_CHARTER]: (typeof SMALL_CHARTER)[K] };
const changed = (change: (charter: Loose) => unknown): Charter => {
  const copy = structuredClone(BASE) as unknown as Loose;
  change(copy);
  return copy as unknown as Charter;
};

test('what each side changed alone is kept, and neither is a clash', () => {
  const draft = changed((c) => {
    c.scoreSets[0]!.signals[0]!.points = 90;
    c.streams[0]!.routes.splice(1, 0, { ...c.streams[0]!.routes[0]!, key: 'fresh', name: 'Fresh' });
    c.gates.pop();
  });
  const inForce = changed((c) => {
    c.scoreSets[0]!.signals[1]!.points = 5;
    c.scoreSets[0]!.grid.fit.cuts = [30, 60];
    c.streams[0]!.routes.push({ ...c.streams[0]!.routes[0]!, key: 'last', name: 'Last' });
  });
  const { charter, clashes } = bringUpToDate(BASE, draft, inForce);
  expect(clashes).toEqual([]);
  expect(charter.scoreSets[0]!.signals.map((s) => s.points)).toEqual([90, 5, -10, 20]);
  expect(charter.scoreSets[0]!.grid.fit.cuts).toEqual([30, 60]);
  expect(charter.gates.map((gate) => gate.key)).toEqual(['qualify']);
  expect(charter.streams[0]!.routes.map((route) => route.key)).toEqual(['large', 'fresh', 'north', 'centre', 'last']);
});

test('what both changed differently is the draft’s, and is named', () => {
  const draft = changed((c) => {
    c.scoreSets[0]!.signals[0]!.points = 90;
    c.gates.pop();
    c.streams[0]!.routes.reverse();
  });
  const inForce = changed((c) => {
    c.scoreSets[0]!.signals[0]!.points = 70;
    c.gates[1]!.name = 'Turned down';
    c.name = 'Autumn';
  });
  const { charter, clashes } = bringUpToDate(BASE, draft, inForce);
  expect(charter.scoreSets[0]!.signals[0]!.points).toBe(90);
  expect(charter.name).toBe('Autumn');
  expect(charter.streams[0]!.routes.map((route) => route.key)).toEqual(['centre', 'north', 'large']);
  expect(clashes.map(({ path }) => path)).toEqual(['/scoreSets/leads/signals/trade/points', '/gates/decline']);
  // What the draft took out stays out, what it changed stays in, whatever the other side did with it.
  expect(charter.gates.map(({ key }) => key)).toEqual(['qualify']);
  const kept = bringUpToDate(BASE, inForce, draft);
  expect(kept.charter.gates.map(({ key, name }) => [key, name])).toContainEqual(['decline', 'Turned down']);
});

test('cuts and cells of grids with other bands are not mixed: the draft’s grid stands, and is named', () => {
  const taller = changed((c) => {
    const { grid } = c.scoreSets[0]!;
    grid.fit = { bands: [...grid.fit.bands, { key: 'top', name: 'Top' }], cuts: [40, 70, 90] };
    grid.cells.push(['nurture', 'hand-over-now']);
  });
  const draft = changed((c) => {
    c.scoreSets[0]!.grid.fit.cuts = [35, 70];
    c.scoreSets[0]!.signals[0]!.points = 61;
  });
  const { charter, clashes } = bringUpToDate(BASE, draft, taller);
  expect(clashes.map(({ path }) => path)).toEqual(['/scoreSets/leads/grid']);
  expect(charter.scoreSets[0]!.grid).toEqual(draft.scoreSets[0]!.grid);
  // A side that changed nothing in the grid takes the other's whole.
  const other = bringUpToDate(
    BASE,
    changed((c) => (c.scoreSets[0]!.signals[0]!.points = 61)),
    taller,
  );
  expect(other.clashes).toEqual([]);
  expect(other.charter.scoreSets[0]).toMatchObject({ grid: taller.scoreSets[0]!.grid });
});

test('a side that changed nothing leaves the other as it is', () => {
  const points = fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 4, maxLength: 4 });
  const order = fc.shuffledSubarray([0, 1, 2], { minLength: 1 });
  fc.assert(
    fc.property(points, order, (list, kept) => {
      const other = changed((c) => {
        c.scoreSets[0]!.signals.forEach((signal, i) => (signal.points = list[i]!));
        const stream = c.streams[0]!;
        stream.routes = kept.map((r) => stream.routes[r]!);
      });
      expect(bringUpToDate(BASE, other, BASE)).toEqual({ charter: other, clashes: [] });
      expect(bringUpToDate(BASE, BASE, other)).toEqual({ charter: other, clashes: [] });
      expect(bringUpToDate(BASE, other, other)).toEqual({ charter: other, clashes: [] });
    }),
  );
});
