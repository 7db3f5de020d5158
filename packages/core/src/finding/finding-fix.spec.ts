import fc from 'fast-check';
import type { Charter } from '../charter/charter';
import { namesOf } from '../charter/charter-names';
import { SMALL_CHARTER, smallCharter, smallWorld } from '../charter/charter.fixture';
import type { Condition } from '../condition/condition';
import { charterFindings } from './charter-findings';
import type { Finding } from './finding';
import { fixOf } from './finding-fix';
import { findingPlace } from './finding-words';
import { routeFindings } from './route-findings';

const world = smallWorld();
const employees = (from: number | null, to: number | null, included: readonly [boolean, boolean]): Condition => ({
  test: 'range',
  subject: { kind: 'field', field: 'employees' },
  from: from === null ? null : { at: String(from), included: included[0] },
  to: to === null ? null : { at: String(to), included: included[1] },
});

function charterWith(whens: readonly Condition[]): Charter {
  const [stream] = SMALL_CHARTER.streams;
  const routes = whens.map((when, i) => ({ ...stream!.routes[0]!, key: `r${i}`, name: `Route ${i}`, when }));
  return smallCharter(world, (json) => Object.assign(json, { streams: [{ ...stream, routes }] })).charter;
}
const findingsOf = (charter: Charter): readonly Finding[] =>
  // Routes of these tests ask for no territory.
  [...charterFindings(charter, world), ...routeFindings(charter, world)].filter(
    ({ code }) => code !== 'territory-unused',
  );
const fixesOf = (charter: Charter) =>
  findingsOf(charter)
    // Their routes ask for none.
    .filter(({ code }) => code !== 'territory-unused')
    .map((finding) => ({
      finding,
      fix: fixOf(finding, charter, { names: namesOf(charter, world), fields: world.fields }),
    }));

test('what was found is gone once its fix is applied, and nothing else in the charter is changed', () => {
  const end = fc.option(fc.constantFrom(10, 50, 200), { freq: 3 });
  const range = fc
    .tuple(end, end, fc.tuple(fc.boolean(), fc.boolean()))
    .filter(([from, to]) => (from === null) !== (to === null) || (from !== null && to !== null && from < to))
    .map(([from, to, included]) => employees(from, to, included));
  const trade = fc
    .subarray(['Brewery', 'Fish farm'], { minLength: 1 })
    .map((values): Condition => ({ test: 'one-of', subject: { kind: 'field', field: 'industry' }, values }));
  const when = fc.oneof(
    range,
    fc.tuple(range, trade).map((of): Condition => ({ test: 'all', of })),
    range.map((of): Condition => ({ test: 'not', of })),
  );
  const applied = new Map<string, number>();
  fc.assert(
    fc.property(fc.array(when, { minLength: 1, maxLength: 4 }), (whens) => {
      const charter = charterWith(whens);
      for (const { finding, fix } of fixesOf(charter)) {
        if (fix === null) continue;
        const mended = fix.apply(charter);
        applied.set(finding.code, (applied.get(finding.code) ?? 0) + 1);
        expect(findingsOf(mended)).not.toContainEqual(finding);
        expect({ ...mended, streams: charter.streams }).toEqual(charter);
      }
    }),
    { numRuns: 60 },
  );
  expect([...applied].filter(([, many]) => many > 5).map(([code]) => code)).toContain('route-never-reached');
});

test('“from 50” and “below 50” left out nothing; “over 50” and “below 50” leave out 50, which the fix lets the lower take', () => {
  expect(fixesOf(charterWith([employees(50, null, [true, false]), employees(null, 50, [true, false])]))).toEqual([]);
  const charter = charterWith([employees(50, null, [false, false]), employees(null, 50, [true, false])]);
  const [{ fix }] = fixesOf(charter) as [ReturnType<typeof fixesOf>[number]];
  expect(fix?.words).toBe('Let Route 1 take 50 too');
  const mended = fix!.apply(charter);
  expect(mended.streams[0]!.routes[1]!.when).toEqual(employees(null, 50, [true, true]));
  expect(findingsOf(mended)).toEqual([]);
});

test('an overlap is left to the territory that counts, a signal of no kind is taken out; people are not for the charter', () => {
  const charter = smallCharter(world, (json) => {
    json.territories.list[1]!.countries.push('Norway');
  }).charter;
  const withSignal = {
    ...charter,
    scoreSets: charter.scoreSets.map((set) => ({
      ...set,
      signals: set.signals.map((one) => (one.kind === 'activity' ? { ...one, activity: 'moon_landed' } : one)),
    })),
  };
  const fixes = fixesOf(withSignal);
  expect(fixes.map(({ finding, fix }) => [findingPlace(finding), fix?.words])).toEqual([
    ['/scoreSets/leads/signals/clicks/activity', 'Take the signal out'],
    ['/territories/list/dach', 'Leave Norway to D-A-CH alone'],
  ]);
  expect(findingsOf(fixes.reduce<Charter>((mended, { fix }) => fix!.apply(mended), withSignal))).toEqual([]);
  const unmanned = { code: 'empty-team', severity: 'warning', stream: 'main', route: 'north', team: 'north' };
  expect(fixOf(unmanned as Finding, charter, { names: namesOf(charter, world), fields: world.fields })).toBeNull();
});
