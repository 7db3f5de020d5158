import fc from 'fast-check';
import { placeInCharter } from '../charter/charter-place';
import { SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import { readCharter } from '../charter/read-charter';
import { bindCharter } from '../charter/ready-charter';
import { namesOf } from '../charter/charter-names';
import { BLANK, readValue } from '../record/value';
import type { TerritoryKey } from '../record/keys';
import { aroundOf, type Drawn } from '../territory/territory';
import { territoryOf } from '../territory/coverage';
import { charterFindings } from './charter-findings';
import { findingPlace, findingWords } from './finding-words';
import { overlapsIn } from './overlap';

const world = smallWorld();

function charterOf(change: (json: typeof SMALL_CHARTER) => unknown) {
  const json = structuredClone(SMALL_CHARTER);
  change(json);
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
}
const said = (change: (json: typeof SMALL_CHARTER) => unknown, around = world): string[] => {
  const charter = charterOf(change);
  const wording = { names: namesOf(charter, around), fields: around.fields, baseCurrency: 'EUR' };
  return charterFindings(charter, around).map(
    (finding) => `${finding.severity}: ${findingWords(finding, wording)} ${findingPlace(finding)}`,
  );
};

test('nothing is found in a charter that is right', () => {
  expect(said(() => undefined)).toEqual([]);
});

test('a score set that reads what a gate changes is an error, both named: tags by the tag, all else by the field', () => {
  const withEffects =
    (on: boolean, ...effects: object[]) =>
    (json: typeof SMALL_CHARTER) =>
      Object.assign(json.gates[0] as object, { on, effects });
  const industry = { kind: 'set', field: 'industry', value: 'Brewery' };
  expect(said(withEffects(true, industry, { kind: 'set', field: 'note', value: '1' }))).toEqual([
    'error: Signal “A trade we serve” reads Industry, which the gate “Qualify” changes: records are scored before they pass gates /scoreSets/leads/signals/trade/when',
  ]);
  expect(said(withEffects(false, industry))).toEqual([]);
  const entering = (tag: string) => (json: typeof SMALL_CHARTER) => {
    withEffects(true, { kind: 'tag', tag })(json);
    const when = { test: 'any-of', subject: { kind: 'field', field: 'tags' }, values: ['Pilot', 'Fair'] };
    Object.assign(json.scoreSets[0] as object, { when: { test: 'not', of: when } });
  };
  expect(said(entering('PILOT'))).toEqual([
    expect.stringMatching(/^error: The entry condition of .+ reads the tag PILOT, which/),
  ]);
  expect(said(entering('Trial'))).toEqual([]);
});

test.each([
  ['employees', 'many', '/gates/0/effects/0/value', /is not a number/],
  ['country', 'NO', '/gates/0/effects/0/field', /no gate may set it/],
  ['company.industry', 'x', '/gates/0/effects/0/field', /no such field|belongs to the company/],
  ['tags', 'x', '/gates/0/effects/0/field', /an effect of its own/],
  ['gone', 'x', '/gates/0/effects/0/field', /no such field: gone/],
])('a gate that sets %s to %j is told at %s', (field, value, path, message) => {
  const charter = charterOf((json) =>
    Object.assign(json.gates[0] as object, { effects: [{ kind: 'set', field, value }] }),
  );
  const binding = bindCharter(charter, world);
  expect(binding.ok ? [] : binding.problems).toContainEqual({
    path,
    message: expect.stringMatching(message) as string,
  });
});

test('a country that two territories cover of which none lies inside the other is kept, told, and the smaller key counts until it is mended', () => {
  const overlapping = (json: typeof SMALL_CHARTER) => json.territories.list[1]!.countries.push('Norway');
  expect(said(overlapping)).toEqual([
    'error: Norway is covered by D-A-CH and Nordics. Until one of them gives it up, it is D-A-CH’s /territories/list/dach',
  ]);
  const binding = bindCharter(charterOf(overlapping), world);
  const norway = readValue(world.fields.get('country')!, 'NO', '2026-03-02');
  expect(
    binding.ok && territoryOf(binding.ready.coverage, null, { country: norway, region: BLANK, postalCode: BLANK }),
  ).toEqual({
    found: 'covered',
    territory: 'dach',
  });
});

test('ranges of postal codes overlap where they cross, each pair once (against a search of all pairs)', () => {
  const range = fc.tuple(fc.integer({ min: 10, max: 40 }), fc.integer({ min: 0, max: 12 }));
  fc.assert(
    fc.property(fc.uniqueArray(range, { maxLength: 12, selector: String }), (drawn) => {
      const list = drawn.map(([from, wide], i): Drawn => ({
        ...{ key: `t${i}` as TerritoryKey, parent: null, countries: [], regions: [] },
        postalCodes: [{ kind: 'range', country: 'NO', from: String(from), to: String(from + wide) }],
      }));
      const pairs = overlapsIn({
        territories: { field: 'country', regionField: null, postalField: null, list } as never,
      }).flatMap((one) => (one.code === 'overlap' ? [[one.counts, ...one.others].sort().join(' ')] : []));
      const expected = drawn.flatMap(([from, wide], i) =>
        drawn.flatMap(([other, width], j) =>
          from < other && other <= from + wide && from + wide < other + width
            ? [[`t${i}`, `t${j}`].sort().join(' ')]
            : [],
        ),
      );
      expect(pairs.sort()).toEqual(expected.sort());
    }),
  );
});

test('overlaps are exactly the countries that two territories claim of which none has a third inside it, nor lies in the other (against a search of all pairs)', () => {
  const countries = ['NO', 'SE', 'DE'];
  const territories = fc
    .array(fc.tuple(fc.subarray(countries), fc.option(fc.nat(3))), { minLength: 1, maxLength: 5 })
    .map((list) =>
      list.map(([covers, parent], i) => ({
        key: `t${i}`,
        name: `T ${i}`,
        // Only inside an earlier one: no circles.
        parent: parent === null || parent >= i ? null : `t${parent}`,
        countries: covers,
      })),
    );
  fc.assert(
    fc.property(territories, (list) => {
      const charter = charterOf((json) => {
        Object.assign(json.territories, { list });
        Object.assign(json, { streams: [] });
      });
      const byKey = new Map(charter.territories.list.map((one) => [one.key, one]));
      const expected = countries.filter((country) => {
        const claims = charter.territories.list.filter((one) => one.countries.includes(country));
        const inner = claims.filter(({ key }) => !claims.some((one) => aroundOf(one.key, byKey).includes(key)));
        return inner.length > 1;
      });
      const found = charterFindings(charter, world).flatMap((one) =>
        one.code === 'overlap' && one.ground.kind === 'country' ? [one.ground.country] : [],
      );
      expect([...found].sort()).toEqual([...expected].sort());
    }),
  );
});

test('what is wrong is told with the names of where it is', () => {
  expect(said((json) => Object.assign(json.streams[0]!.routes[1]!, { to: { kind: 'team', team: 'gone' } }))).toEqual([
    'error: Stream “Qualified leads”, route “Nordics”, destination, team: no such team: gone /streams/main/routes/north/to/team',
  ]);
  expect(said((json) => Object.assign(json.scoreSets[0]!.signals[3]!, { activity: 'letter_sent' }))).toEqual([
    expect.stringMatching(/^error: Signal “.*”: no such kind of activity: letter_sent \/scoreSets\/leads\/signals\//),
  ]);
  const nobody = smallWorld(({ teams }) => Object.assign(teams[0]!, { members: [] }));
  expect(said(() => undefined, nobody)).toEqual([
    'warning: Nobody is in Team north: what the route Nordics matches waits in the bay /streams/main/routes/north/to',
  ]);
});

test.each([
  ['', '', ''],
  ['/lastResort/lead', '/lastResort/lead', 'Last resort, for leads'],
  ['/territories/list/1/countries/0', '/territories/list/dach/countries/0', 'Territory “D-A-CH”, country 1'],
  ['/streams/main/routes/centre', '/streams/main/routes/centre', 'Stream “Qualified leads”, route “D-A-CH”'],
  ['/streams/main/routes/gone', '/streams/main/routes/gone', 'Stream “Qualified leads”, route “gone”'],
  ['/streams/0/routes/9', '/streams/main/routes/9', 'Stream “Qualified leads”, route 10'],
  ['/nowhere/0/x', '/nowhere/0/x', 'Nowhere, 0, x'],
])('%j is named %j, in words “%s”', (pointer, path, words) => {
  expect(placeInCharter(SMALL_CHARTER, pointer)).toEqual({ path, words });
});

test('a route to people of whom none could ever be given a lead is said, also for want of a whole list of skills', () => {
  const found = (change: Parameters<typeof smallWorld>[0], skills: object[] = []) => {
    const world = smallWorld(change);
    const json = structuredClone(SMALL_CHARTER) as { streams: { routes: object[] }[] };
    Object.assign(json.streams[0]!.routes[1]!, { skills });
    const reading = readCharter(json);
    if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
    return charterFindings(reading.charter, world)
      .filter(({ code }) => code === 'nobody-can-take')
      .map((finding) =>
        findingWords(finding, { names: namesOf(reading.charter, world), fields: world.fields, baseCurrency: 'EUR' }),
      );
  };
  const trades: Parameters<typeof smallWorld>[0] = (document) =>
    Object.assign(document, { skills: [{ key: 'trades', name: 'Trades', words: ['Brewery'] }] });
  const north = 'Nobody to whom the route Nordics leads could ever take a lead: what it matches waits in the bay';
  expect(found(() => undefined)).toEqual([]);
  expect(found(({ reps }) => Object.assign(reps[1]!, { mayTakeLeads: false }))).toEqual([]);
  expect(found(({ reps }) => Object.assign(reps[1]!, { limit: 0 }) && Object.assign(reps[0]!, { limit: 0 }))).toContain(
    north,
  );
  expect(found(trades, [{ skill: 'trades', field: 'industry' }])).toEqual([north]);
});
