import { lead, NOW, SMALL_CHARTER, smallCharter, smallWorld } from '../charter/charter.fixture';
import { decide } from '../decide/decide';
import { namesOf } from '../charter/charter-names';
import { pointsChanges, pointsChangesWords } from './points-changes';

const world = smallWorld();
const charter = smallCharter(world);
const names = namesOf(charter.charter, world);
const HOUR = 3_600_000;
const scoreOf = (values: Parameters<typeof lead>[1], clicks: number) =>
  decide(
    charter,
    lead(world, values, {
      activities: Array.from({ length: clicks }, (_, i) => ({ kind: 'mail_clicked', at: NOW - (i + 1) * HOUR })),
    }),
    world,
    'created',
    NOW,
  ).score;

test('what signals give more and less, the largest first; their sum is what the scores moved by', () => {
  const before = scoreOf({ industry: 'Brewery', employees: '20' }, 0);
  const after = scoreOf({ industry: 'Golf course', employees: '80' }, 1);
  const changes = pointsChanges(before, after);
  expect(changes.length).toBeGreaterThan(1);
  const sizes = changes.map(({ by }) => Math.abs(by));
  expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  for (const axis of ['fit', 'engagement'] as const) {
    const [from, to] = [before[axis], after[axis]];
    if (!from.judged || !to.judged) throw new Error('both can be judged');
    const moved = changes.filter((one) => one.axis === axis).reduce((sum, { by }) => sum + by, 0);
    expect(moved).toBeCloseTo(to.sum - from.sum, 1);
  }
  expect(pointsChanges(after, before)).toEqual(changes.map(({ by, ...one }) => ({ ...one, by: -by })));
});

test('nothing is compared with nothing, nor with another set; what is gone counts against', () => {
  const after = scoreOf({ industry: 'Brewery' }, 1);
  expect(pointsChanges(null, after)).toEqual([]);
  expect(pointsChanges({ ...after, set: 'another' }, after)).toEqual([]);
  expect(pointsChanges(after, after)).toEqual([]);
  const [gone] = after.signals.filter(({ points }) => points > 0);
  expect(pointsChanges(after, { ...after, signals: after.signals.filter((one) => one !== gone) })).toEqual([
    { signal: gone!.signal, axis: gone!.axis, by: -gone!.points },
  ]);
});

test('three are told, the rest are counted', () => {
  const [a, b, c, d] = SMALL_CHARTER.scoreSets[0]!.signals.map(({ key, name }) => ({ key, name }));
  const changes = [a, b, c, d].map((one, i) => ({ signal: one!.key, axis: 'fit' as const, by: 8.125 - i * 10 }));
  expect(pointsChangesWords(changes, names)).toBe(`+8.13 ${a!.name}, −1.88 ${b!.name}, −11.88 ${c!.name} and 1 more`);
  expect(pointsChangesWords(changes.slice(0, 1), names)).toBe(`+8.13 ${a!.name}`);
  expect(pointsChangesWords([], names)).toBe('');
});
