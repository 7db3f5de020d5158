import fc from 'fast-check';
import { BAND_COUNTS } from '../grade/band';
import { gradeOf } from '../grade/grade';
import { AXES } from '../signal/signal';
import { charter as charters } from '../sweep/sweep.fixture';
import type { Charter } from './charter';
import { addBand, mentionsOfBand, renameBand, takeOutBand } from './edit-bands';
import { readCharter } from './read-charter';

const axis = fc.constantFrom(...AXES);
const scores = fc.array(fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 100 })), {
  minLength: 1,
  maxLength: 30,
});

const problemsIn = (charter: Charter): unknown => {
  const reading = readCharter(JSON.parse(JSON.stringify(charter)));
  return reading.ok ? [] : reading.problems;
};

test('a band that is renamed changes neither the cell of any score nor what it asks for', () => {
  fc.assert(
    fc.property(charters, axis, scores, fc.nat(), ({ charter }, on, list, n) => {
      const [set] = charter.scoreSets;
      const { bands } = set!.grid[on];
      const renamed = renameBand(set!, on, bands[n % bands.length]!.key, 'Another');
      for (const [fit, engagement] of list) {
        const { name, ...was } = gradeOf(set!.grid, fit, engagement);
        expect(gradeOf(renamed.grid, fit, engagement)).toMatchObject(was);
        expect(name).not.toContain('Another');
      }
    }),
  );
});

test('a band that is added takes the upper half of the one it parts, with its verdicts, and all else stays', () => {
  fc.assert(
    fc.property(charters, axis, scores, fc.nat(), ({ charter }, on, list, n) => {
      const [set] = charter.scoreSets;
      const { bands } = set!.grid[on];
      const parted = bands[n % bands.length]!.key;
      const added = addBand(set!, on, parted, { key: 'fresh', name: 'Fresh' });
      if (added === null) return;
      expect(added.grid[on].bands).toHaveLength(bands.length + 1);
      expect(problemsIn({ ...charter, scoreSets: [added, ...charter.scoreSets.slice(1)] })).toEqual([]);
      for (const [fit, engagement] of list) {
        const [was, is] = [gradeOf(set!.grid, fit, engagement), gradeOf(added.grid, fit, engagement)];
        expect(is.verdict).toBe(was.verdict);
        if (is.bands[on] === 'fresh') expect(was.bands[on]).toBe(parted);
        else expect(is.bands).toEqual(was.bands);
      }
    }),
  );
});

test('a band that is taken out leaves its scores to its neighbour, and whatever named it to the bands chosen', () => {
  let taken = 0;
  fc.assert(
    fc.property(charters, axis, scores, fc.nat(), fc.boolean(), fc.boolean(), ({ charter }, on, list, n, up, own) => {
      const [set] = charter.scoreSets;
      const { bands } = set!.grid[on];
      const at = n % bands.length;
      const next = up ? bands[at + 1] : bands[at - 1];
      const key = bands[at]!.key;
      const mentioned = mentionsOfBand(charter, set!.key, on, key);
      const to = { scores: next?.key ?? '', verdicts: own ? key : (next?.key ?? ''), conditions: [next?.key ?? ''] };
      const without = takeOutBand(charter, set!.key, on, key, to);
      if (next === undefined || bands.length <= BAND_COUNTS[on][0]) {
        expect(without).toBeNull();
        return;
      }
      taken += 1;
      const { grid } = without!.scoreSets[0]!;
      for (const [fit, engagement] of list) {
        const [was, is] = [gradeOf(set!.grid, fit, engagement), gradeOf(grid, fit, engagement)];
        expect(is.bands[on]).toBe(was.bands[on] === key ? next.key : was.bands[on]);
        if (was.bands[on] !== key && was.bands[on] !== next.key) expect(is.verdict).toBe(was.verdict);
        if (was.bands[on] === to.verdicts) expect(is.verdict).toBe(was.verdict);
      }
      expect(problemsIn(without!)).toEqual([]);
      expect(mentionsOfBand(without!, set!.key, on, key)).toEqual([]);
      const rulesOf = ({ gates, streams }: Charter) => [
        ...gates,
        ...streams,
        ...streams.flatMap(({ routes }) => routes),
      ];
      for (const rule of rulesOf(without!)) {
        const named = mentioned.some((mention) => mention.key === rule.key);
        const before = rulesOf(charter).find((one) => one.key === rule.key)!;
        if (named) expect(JSON.stringify(rule.when)).toContain(`"${next.key}"`);
        else expect(rule.when).toEqual(before.when);
      }
    }),
  );
  expect(taken).toBeGreaterThan(10);
});
