import { SMALL_CHARTER, SMALL_WORLD, smallWorld } from './charter.fixture';
import { readCharter } from './read-charter';
import { bindCharter } from './ready-charter';
import { readWorld } from '../people/read-world';

type Json = Record<string, unknown>;

/** Every problem of a document after one member, found by its JSON Pointer, was replaced (`undefined`: taken out). */
function broken<T>(document: object, pointer: string, value: unknown, read: (json: unknown) => T): T {
  const json = structuredClone(document) as Json;
  const steps = pointer.split('/').slice(1);
  const last = steps.pop() ?? '';
  const parent = steps.reduce<Json>((at, step) => at[step] as Json, json);
  if (value === undefined) Reflect.deleteProperty(parent, last);
  else parent[last] = value;
  return read(json);
}

function problemsIn(json: unknown) {
  const reading = readCharter(json);
  if (!reading.ok) return reading.problems;
  const binding = bindCharter(reading.charter, smallWorld());
  return binding.ok ? [] : binding.problems;
}

test('a charter that is right has no problems', () => {
  expect(problemsIn(SMALL_CHARTER)).toEqual([]);
});

test.each<[string, unknown, string, RegExp]>([
  ['/version', 5, '/version', /must be 4/],
  ['/surprise', true, '/surprise', /not known here/],
  ['/timeZone', 'Europe/Atlantis', '/timeZone', /no such time zone/],
  ['/baseCurrency', 'ABC', '/baseCurrency', /no currency/],
  ['/pipelines/0/entry', 'nowhere', '/pipelines/0/entry', /no such stage/],
  ['/pipelines/0/stages/1/key', 'new', '/pipelines/0/stages/1/key', /stands twice/],
  ['/pipelines/0/stages/1/mergedFrom', ['new'], '/pipelines/0/stages/1/mergedFrom/0', /stands twice: new/],
  ['/pipelines/1/of', 'lead', '/pipelines', /needs a pipeline for deals/],
  ['/pipelines/1/stages/2/kind', 'open', '/pipelines/1/stages', /needs a stage that is won/],
  ['/pipelines/0/stages/1/kind', 'won', '/pipelines/0/stages/1/kind', /must be open or out, in a pipeline of leads/],
  ['/pipelines/1/entry', 'deal-lost', '/pipelines/1/entry', /is a stage that closes/],
  ['/scoreSets/0/grid/fit/bands/1/key', 'c', '/scoreSets/0/grid/fit/bands/1/key', /stands twice/],
  ['/scoreSets/0/grid/fit/bands/1/name', 'c', '/scoreSets/0/grid/fit/bands', /a name twice/],
  ['/verdicts/0', { key: 'decline', name: 'No' }, '/verdicts', /hand-over-now once/],
  ['/scoreSets/0/signals/0/points', 'ten', '/scoreSets/0/signals/0/points', /must be a number/],
  ['/scoreSets/0/signals/3/most', 0, '/scoreSets/0/signals/3/most', /from 1/],
  [
    '/scoreSets/0/signals/0/when/subject',
    { kind: 'score', axis: 'fit' },
    '/scoreSets/0/signals/0/when/subject',
    /be asked about here/,
  ],
  [
    '/scoreSets/0/signals/0/when/subject/field',
    'moon',
    '/scoreSets/0/signals/0/when/subject/field',
    /no such field: moon/,
  ],
  ['/scoreSets/0/signals/1/key', 'trade', '/scoreSets/0/signals/1/key', /stands twice/],
  [
    '/scoreSets/0/when',
    { test: 'one-of', subject: { kind: 'verdict' }, values: ['decline'] },
    '/scoreSets/0/when/subject',
    /be asked about here/,
  ],
  ['/scoreSets', [], '/scoreSets', /at least 1/],
  ['/scoreSets/1', SMALL_CHARTER.scoreSets[0], '/scoreSets/1/key', /stands twice/],
  ['/scoreSets/1', { ...SMALL_CHARTER.scoreSets[0], key: 'more' }, '/scoreSets/1/signals/0/key', /stands twice/],
  ['/scoreSets/0/fit', { least: 5, most: 5 }, '/scoreSets/0/fit', /below its most/],
  ['/scoreSets/0/grid/fit/cuts', [70, 70], '/scoreSets/0/grid/fit/cuts/1', /above the cut before/],
  ['/scoreSets/0/grid/fit/cuts', [70], '/scoreSets/0/grid/fit/cuts', /one cut fewer/],
  ['/scoreSets/0/grid/cells/2', ['nurture'], '/scoreSets/0/grid/cells/2', /one cell for each/],
  ['/scoreSets/0/grid/fit/cuts', [40, 120], '/scoreSets/0/grid/fit/cuts/1', /outside the bounds of its axis, 0 to 100/],
  ['/gates/0/from', 'out', '/gates/0/from', /a stage that closes/],
  ['/lastResort/lead', undefined, '/lastResort/lead', /^is missing: it must be a key: small letters/],
  [
    '/scoreSets/0/signals/1/when/from',
    20,
    '/scoreSets/0/signals/1/when/from',
    /must be an end such as \{"at": "20", "included": true\}/,
  ],
  [
    '/streams/0/routes/0/when',
    {
      test: 'range',
      subject: { kind: 'field', field: 'deal_value' },
      from: { at: '100 EUR', included: true },
      to: null,
    },
    '/streams/0/routes/0/when/from/at',
    /an amount in EUR without it, such as 20000/,
  ],
  [
    '/gates/0/when/subject',
    { kind: 'territory' },
    '/gates/0/when/subject',
    /one may ask about the record’s own fields, .*fit, .*stage, days in the stage, hours in the stage, the owner, the owner’s teams$/,
  ],
  ['/gates/0/to', 'gone', '/gates/0/to', /no such stage/],
  ['/gates/0/to', 'new', '/gates/0/to', /leads back/],
  ['/territories/field', 'industry', '/territories/field', /holds a country/],
  ['/territories/list/1/countries', ['Atlantis'], '/territories/list/1/countries/0', /not a country/],
  ['/territories/list/0/parent', 'nordics', '/territories/list/0/parent', /inside itself/],
  ['/streams/0/entering', [], '/streams/0/entering', /at least 1/],
  ['/streams/0/routes/1/key', 'large', '/streams/0/routes/1/key', /stands twice/],
  ['/streams/0/routes/1/to', { kind: 'team', team: 'south' }, '/streams/0/routes/1/to/team', /no such team/],
  ['/streams/0/routes/0/to', { kind: 'moon' }, '/streams/0/routes/0/to/kind', /must be one of/],
  ['/lastResort/lead', undefined, '/lastResort/lead', /must be a key/],
  ['/lastResort/lead', 'nobody', '/lastResort/lead', /no such queue/],
])('%s as %j is said at %s', (pointer, value, path, message) => {
  const problems = broken(SMALL_CHARTER, pointer, value, problemsIn);
  expect(problems).toContainEqual({ path, message: expect.stringMatching(message) as string });
});

test.each([null, 7, 'text', [], {}])('%j is no charter, and one look says what is missing', (json) => {
  expect(problemsIn(json).length).toBeGreaterThan(0);
});

test.each<[string, unknown, string]>([
  ['/fields/0/key', 'Fit!', '/fields/0/key'],
  ['/fields/0/key', 'rank', '/fields/0/key'],
  ['/fields/0/type', 'colour', '/fields/0/type'],
  ['/teams/0/members/0', 'zoe', '/teams/0/members/0'],
  ['/teams/0/members', ['ada', 'bo', 'ada'], '/teams/0/members/2'],
  ['/rates/0/currency', 'EUR', '/rates/0/currency'],
  ['/rates/1', SMALL_WORLD.rates[0], '/rates/1/from'],
  ['/referenceCurrency', 'ABC', '/referenceCurrency'],
  ['/rates/0/rate', '-1', '/rates/0/rate'],
  ['/rates/0/from', '2026-02-30', '/rates/0/from'],
  ['/reps/0/limit', -1, '/reps/0/limit'],
])('in a world, %s as %j is said at %s', (pointer, value, path) => {
  const reading = broken(SMALL_WORLD, pointer, value, readWorld);
  expect(reading.ok ? [] : reading.problems.map((p) => p.path)).toContain(path);
});

test('parts that are written as they are read stay the objects they are; members in another order are put in order', () => {
  const routesIn = (json: unknown) => {
    const reading = readCharter(json);
    if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
    return reading.charter.streams[0]!.routes;
  };
  const routes = routesIn(structuredClone(SMALL_CHARTER));
  const [stream] = SMALL_CHARTER.streams;
  const written = structuredClone({ ...SMALL_CHARTER, streams: [{ ...stream!, routes }] });
  expect(routesIn(written)[0]).toBe(written.streams[0]!.routes[0]);
  // Lookups and plans are known by their text.
  const when = { subject: { kind: 'field', field: 'industry' }, values: ['brewery'], test: 'one-of' };
  const turned = structuredClone({ ...SMALL_CHARTER, streams: [{ ...stream!, routes: [{ ...routes[0]!, when }] }] });
  expect(JSON.stringify(routesIn(turned)[0]!.when)).toBe(
    '{"test":"one-of","subject":{"kind":"field","field":"industry"},"values":["brewery"]}',
  );
});
