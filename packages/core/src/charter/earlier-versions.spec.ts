import { bringUpToDate } from './bring-up-to-date';
import { SMALL_CHARTER } from './charter.fixture';
import type { Charter } from './charter';
import { asVersion1, asVersion2, asVersion3 } from './earlier-charters.fixture';
import { readCharter } from './read-charter';

function read(json: unknown): Charter {
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
}

const problemsIn = (json: unknown) => {
  const reading = readCharter(json);
  return reading.ok ? [] : reading.problems;
};

test.each([
  ['1', asVersion1],
  ['2', asVersion2],
  ['3', asVersion3],
])('a charter of version %s is read as one of today', (_, asEarlier) => {
  expect(read(asEarlier(SMALL_CHARTER))).toEqual(read(SMALL_CHARTER));
});

test('conditions of version 2 knew bands by name, parts of names too; in either way of writing a test', () => {
  const { gates, ...rest } = asVersion2(SMALL_CHARTER);
  const whenOf = (when: unknown) => {
    const [gate] = read({ ...rest, gates: [{ ...gates[0]!, when }] }).gates;
    return gate!.when;
  };
  const fit = { kind: 'band', axis: 'fit' };
  const engagement = { kind: 'band', axis: 'engagement' };
  expect(whenOf({ test: 'one-of', subject: fit, values: ['A', ' b '] })).toMatchObject({ values: ['a', 'b'] });
  expect(whenOf({ test: 'is', field: 'engagement_band', value: 'Active' })).toMatchObject({ values: ['active'] });
  expect(whenOf({ test: 'not', of: { test: 'contains', subject: engagement, values: ['ACT', 'zzz'] } })).toEqual({
    test: 'not',
    of: { test: 'one-of', subject: engagement, values: ['active'] },
  });
  expect(whenOf({ test: 'blank', field: 'fit_band' })).toEqual({ test: 'blank', subject: fit });
});

test('bands of one name in two sets have one key, names in any script have keys that differ', () => {
  const earlier = asVersion2(SMALL_CHARTER);
  const [first] = earlier.scoreSets;
  const grid = { ...first!.grid, fit: { names: ['低', '高', 'a'], cuts: [40, 70] } };
  const second = { ...first!, key: 'second', signals: [], grid };
  const keysOf = ({ scoreSets }: Charter) => scoreSets.map((set) => set.grid.fit.bands.map(({ key }) => key));
  expect(keysOf(read({ ...earlier, scoreSets: [first, second] }))).toEqual([
    ['c', 'b', 'a'],
    ['band', 'band-2', 'a'],
  ]);
});

test('sets for companies read the companies’ own fields in place of those of leads; the pipeline of deals takes no key that stands', () => {
  const earlier = asVersion3(SMALL_CHARTER);
  const [first] = earlier.scoreSets;
  const of = (field: string) => ({ test: 'blank', subject: { kind: 'field', field } });
  const day = { test: 'blank', subject: { kind: 'days-since', day: { kind: 'field', field: 'since' } } };
  const when = {
    test: 'all',
    of: [of('industry'), { test: 'not', of: day }, { test: 'blank', subject: { kind: 'arrived' } }],
  };
  const firms = { ...first!, key: 'firms', of: 'company', when, signals: [] };
  const [pipeline] = earlier.pipelines;
  const taken = { ...pipeline!, stages: [...pipeline!.stages, { key: 'deal-won', name: 'Won', kind: 'open' }] };
  const { scoreSets, pipelines } = read({ ...earlier, scoreSets: [first, firms], pipelines: [taken] });
  expect(scoreSets[0]!.signals).toEqual(read(SMALL_CHARTER).scoreSets[0]!.signals);
  expect(JSON.stringify(scoreSets[1]!.when).match(/"field":"[^"]*"/g)).toEqual([
    '"field":"company.industry"',
    '"field":"company.since"',
  ]);
  expect(pipelines[1]!.stages.map(({ key }) => key)).toEqual([
    'deal-open',
    'deal-offer',
    'deal-won-of-deals',
    'deal-lost',
  ]);
});

test('what is wrong in an earlier charter is said at its place there', () => {
  const earlier = asVersion2(SMALL_CHARTER);
  const path = (change: object): string[] => problemsIn({ ...earlier, ...change }).map((problem) => problem.path);
  expect(path({ entry: 'nowhere' })).toEqual(['/entry']);
  expect(path({ stages: earlier.stages.map((one, i) => (i === 1 ? { ...one, name: 7 } : one)) })).toEqual([
    '/stages/1/name',
  ]);
  expect(path({ lastResort: undefined })).toEqual(['/lastResort']);
  const [set] = earlier.scoreSets;
  const fit = { ...set!.grid.fit, names: ['C', 'B', ''] };
  expect(path({ scoreSets: [{ ...set!, grid: { ...set!.grid, fit } }] })).toEqual(['/scoreSets/0/grid/fit/names/2']);
  const one = asVersion1(SMALL_CHARTER);
  expect(problemsIn({ ...one, scoreSet: { ...one.scoreSet, name: '' } })).toMatchObject([{ path: '/scoreSet/name' }]);
  expect(problemsIn({ ...one, scoreSet: undefined }).length).toBeGreaterThan(0);
});

test('a draft of version 2 is brought up to date on a charter of today in which a band has another name', () => {
  const base = read(asVersion2(SMALL_CHARTER));
  const changed = structuredClone(SMALL_CHARTER);
  changed.scoreSets[0]!.signals[0]!.points = 55;
  changed.gates[0]!.name = 'Hand on';
  const draft = read(asVersion2(changed));
  const renamed = structuredClone(SMALL_CHARTER);
  renamed.scoreSets[0]!.grid.fit.bands[1]!.name = 'Middling';
  renamed.pipelines[0]!.stages[0]!.name = 'Fresh';
  const { charter, clashes } = bringUpToDate(base, draft, read(renamed));
  expect(clashes).toEqual([]);
  expect(charter).toMatchObject({
    version: 4,
    pipelines: [{ stages: [{ key: 'new', name: 'Fresh' }, {}, {}] }, { of: 'deal' }],
    scoreSets: [
      { signals: [{ points: 55 }, {}, {}, {}], grid: { fit: { bands: [{}, { key: 'b', name: 'Middling' }, {}] } } },
    ],
    gates: [{ name: 'Hand on' }, {}],
  });
});
