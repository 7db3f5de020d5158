import Ajv from 'ajv/dist/2020';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Charter, CHARTER_SCHEMA, readCharter, readWorld, WORLD_SCHEMA } from '@relvik/core';
import { charterFile } from '@relvik/formats';
import { SMALL_CHARTER, SMALL_WORLD } from '../../core/src/charter/charter.fixture';
import { asVersion2 } from '../../core/src/charter/earlier-charters.fixture';

const root = join(__dirname, '../../..');
const folder = mkdtempSync(join(tmpdir(), 'relvik-cli-'));
const file = (name: string): string => join(folder, name);

function write(name: string, content: string | object): string {
  writeFileSync(file(name), typeof content === 'string' ? content : JSON.stringify(content));
  return file(name);
}

/** Runs the command as people do, on the source as it is. */
function relvik(...args: string[]) {
  const run = `require('${join(__dirname, 'main.ts')}').run(process.argv)`;
  const done = spawnSync(process.execPath, ['-r', 'tsx/cjs', '-e', run, 'relvik', ...args], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, TSX_TSCONFIG_PATH: join(root, 'tsconfig.check.json') },
  });
  return { code: done.status, out: done.stdout, err: done.stderr };
}

const readLines = (name: string): unknown[] =>
  readFileSync(file(name), 'utf8')
    .trim()
    .split('\n')
    .map((line): unknown => JSON.parse(line));
const charter = write('charter.json', SMALL_CHARTER);
const world = write('world.json', { ...SMALL_WORLD, loads: [{ rep: 'ada', open: 1 }] });
const RECORDS = [
  'id,industry,employees,email,country,deal_value,owner',
  'one,Brewery,80,kari@mail.example,Norway,,',
  'two,Brewery,,per@b.example,NOR,,',
  'three,brewery,,x@b.example,SE,20000 EUR,',
  'four,Fish farm,about 50,y@b.example,NO,,',
  'five,Brewery,,z@b.example,Malta,,',
  'six,Brewery,,w@b.example,NO,,bo',
  'seven,Golf course,,v@mail.example,,,',
].join('\r\n');
const ACTIVITIES = [
  'record,kind,at',
  ...['one', 'two', 'three', 'five', 'six'].flatMap((id) =>
    [1, 2].map((day) => `${id},mail_clicked,2026-03-0${day}T08:00:00Z`),
  ),
].join('\n');
const decide = (...more: string[]) =>
  relvik(
    'decide',
    '--charter',
    charter,
    '--world',
    world,
    '--records',
    write('records.csv', RECORDS),
    '--activities',
    write('activities.csv', ACTIVITIES),
    '--as-of',
    '2026-03-02T09:00:00Z',
    '--out',
    file('out.ndjson'),
    ...more,
  );

test('with --explain the account of every record is printed, step by step', () => {
  const { code, out } = decide('--explain');
  expect(code).toBe(0);
  const first = out.slice(0, out.indexOf('\ntwo\n')).split('\n');
  expect(first[0]).toBe('one');
  expect(first.filter((line) => /^ {2}[a-z]/.test(line)).map((line) => line.trim().split(/\s+/)[0])).toEqual([
    'score',
    'grade',
    'gate',
    'territory',
    'route',
    'place',
  ]);
  expect(first.at(-1)).toContain('Ada Lindqvist');
});

test('decides rows in file order, each with the loads and turns that the ones before it left', () => {
  expect(decide('--world-out', file('after.json'))).toMatchObject({ code: 0, err: '' });
  const lines = readFileSync(file('out.ndjson'), 'utf8')
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, unknown>);
  const short = lines.map(({ id, grade, stage, territory, route, place, owner, queue }) => ({
    id,
    grade,
    stage,
    territory,
    route,
    place,
    owner,
    queue,
  }));
  expect(short).toEqual([
    {
      id: 'one',
      grade: 'A active',
      stage: 'qualified',
      territory: 'nordics',
      route: 'north',
      place: 'owner',
      owner: 'ada',
      queue: null,
    },
    {
      id: 'two',
      grade: 'B active',
      stage: 'qualified',
      territory: 'nordics',
      route: 'north',
      place: 'owner',
      owner: 'bo',
      queue: null,
    },
    {
      id: 'three',
      grade: 'B active',
      stage: 'qualified',
      territory: 'nordics',
      route: 'large',
      place: 'bay',
      owner: null,
      queue: null,
    },
    {
      id: 'four',
      grade: null,
      stage: 'new',
      territory: 'nordics',
      route: null,
      place: 'bay',
      owner: null,
      queue: null,
    },
    {
      id: 'five',
      grade: 'B active',
      stage: 'qualified',
      territory: null,
      route: null,
      place: 'queue',
      owner: null,
      queue: 'operations',
    },
    {
      id: 'six',
      grade: 'B active',
      stage: 'qualified',
      territory: 'nordics',
      route: null,
      place: 'owner',
      owner: 'bo',
      queue: null,
    },
    {
      id: 'seven',
      grade: 'C quiet',
      stage: 'out',
      territory: null,
      route: null,
      place: 'not-handed-over',
      owner: null,
      queue: null,
    },
  ]);
  expect(lines[0]).toMatchObject({
    fit: { score: 100, positive: 134, negative: -10 },
    engagement: { score: 40 },
    rank: 140,
    verdict: 'hand-over-now',
  });
  expect(lines[2]).toMatchObject({
    bay: { why: 'nobody-free', route: 'large' },
    reasons: expect.arrayContaining([
      { step: 'place', text: 'Ada Lindqvist skipped: has 2 open leads, the limit is 2' },
    ]) as object[],
  });
  expect(lines[3]).toMatchObject({
    fit: { score: null, unjudged: ['employees'] },
    rank: null,
    warnings: [{ field: 'employees', raw: 'about 50', why: 'is not a number' }],
  });

  const after = JSON.parse(readFileSync(file('after.json'), 'utf8')) as object;
  expect(after).toMatchObject({
    loads: [
      { rep: 'ada', open: 2 },
      { rep: 'bo', open: 2 },
    ],
    turns: [{ route: 'north', lastServed: 'bo' }],
  });
  expect(readWorld(after)).toMatchObject({ ok: true });
});

test('the same files give the same bytes', () => {
  decide();
  const first = readFileSync(file('out.ndjson'));
  decide();
  expect(readFileSync(file('out.ndjson')).equals(first)).toBe(true);
});

test('check says where a charter is wrong, in itself and with its world', () => {
  expect(relvik('check', charter)).toMatchObject({ code: 0 });
  expect(relvik('check', charter, '--world', world)).toMatchObject({ code: 0 });
  const wrong = write('wrong.json', {
    ...SMALL_CHARTER,
    pipelines: [{ ...SMALL_CHARTER.pipelines[0]!, entry: 'nowhere' }, SMALL_CHARTER.pipelines[1]!],
  });
  expect(relvik('check', wrong)).toMatchObject({
    code: 1,
    err: `${wrong}: /pipelines/0/entry no such stage: nowhere\n`,
  });
  const alone = write('alone.json', { ...SMALL_CHARTER, lastResort: { lead: 'moon' } });
  expect(relvik('check', alone)).toMatchObject({ code: 0 });
  expect(relvik('check', alone, '--world', world)).toMatchObject({
    code: 1,
    err: `${alone}: Last resort, for leads: no such queue: moon (/lastResort/lead)\n`,
  });
  expect(relvik('check', write('cut.json', '{"format":'))).toMatchObject({
    code: 1,
    err: expect.stringContaining('is no JSON, or cut off') as string,
  });
});

test('bad rows are all named, by row and column, and nothing is written', () => {
  const bad = write('bad.csv', 'id,owner,arrived\n,ada,\na,zoe,2026-03-02T09:00:00Z\na,,yesterday');
  const { code, err } = relvik(
    'decide',
    '--charter',
    charter,
    '--world',
    world,
    '--records',
    bad,
    '--out',
    file('never.ndjson'),
  );
  expect(code).toBe(1);
  expect(
    err
      .trimEnd()
      .split('\n')
      .map((line) => line.replace(`${bad}: `, '')),
  ).toEqual([
    'row 1: id: must not be empty',
    'row 1: arrived: is needed where there is no --as-of',
    'row 2: owner: no such rep: zoe',
    'row 3: id: stands twice: a',
    'row 3: arrived: is no instant such as 2026-11-24T08:30:00Z: yesterday',
  ]);
  expect(() => readFileSync(file('never.ndjson'))).toThrow();
  expect(relvik('decide', '--charter', charter)).toMatchObject({ code: 2 });
});

test('the JSON Schemas in docs accept and refuse forms as the reader does', () => {
  const ajv = new Ajv({ allErrors: true });
  const schema = (name: string) =>
    ajv.compile(JSON.parse(readFileSync(join(root, `docs/schema/${name}.schema.json`), 'utf8')) as object);
  const [isCharter, isWorld] = [schema('charter'), schema('world')];
  expect([isCharter(SMALL_CHARTER), isWorld(SMALL_WORLD)]).toEqual([true, true]);
  // `npm run schemas` writes them.
  const kept = (name: string): unknown =>
    JSON.parse(readFileSync(join(root, `docs/schema/${name}.schema.json`), 'utf8'));
  expect([kept('charter'), kept('world')]).toEqual(JSON.parse(JSON.stringify([CHARTER_SCHEMA, WORLD_SCHEMA])));
  const [set] = SMALL_CHARTER.scoreSets;
  const signals = set!.signals;
  const withSignals = (list: readonly object[]) => ({ ...SMALL_CHARTER, scoreSets: [{ ...set, signals: list }] });
  for (const broken of [
    { ...SMALL_CHARTER, version: 5 },
    { ...SMALL_CHARTER, surprise: 1 },
    { ...SMALL_CHARTER, pipelines: [] },
    withSignals([{ ...signals[0], points: 'ten' }]),
    { ...SMALL_CHARTER, scoreSets: [] },
    { ...SMALL_CHARTER, scoreSets: [{ ...set, when: { test: 'like' } }] },
    withSignals([
      { ...signals[1], when: { test: 'range', subject: { kind: 'field', field: 'employees' }, from: null } },
    ]),
    { ...SMALL_CHARTER, gates: [{ ...SMALL_CHARTER.gates[0], when: { test: 'like', field: 'x' } }] },
  ]) {
    expect([isCharter(broken), readCharter(broken).ok]).toEqual([false, false]);
  }
  for (const broken of [
    { ...SMALL_WORLD, fields: [{ key: 'Fit', name: 'x', type: 'text' }] },
    { ...SMALL_WORLD, reps: [{ key: 'a', name: 'A', limit: -1 }] },
  ]) {
    expect([isWorld(broken), readWorld(broken).ok]).toEqual([false, false]);
  }
});

test('check reads what the product exports, and warns of a team that nobody is in', () => {
  const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');
  const exported = charterFile(SMALL_CHARTER as unknown as Charter, sha256);
  expect(relvik('check', write('exported.json', exported), '--world', world)).toMatchObject({ code: 0, err: '' });
  // As an earlier version exported it.
  const earlier = charterFile(asVersion2(SMALL_CHARTER) as unknown as Charter, sha256);
  expect(relvik('check', write('earlier.json', earlier), '--world', world)).toMatchObject({ code: 0, err: '' });
  const changed = { ...exported, charter: { ...exported.charter, name: 'Other' } };
  expect(relvik('check', write('changed.json', changed))).toMatchObject({
    code: 1,
    err: expect.stringContaining('/checksum does not fit the charter') as string,
  });
  const lonely = { ...SMALL_WORLD, teams: SMALL_WORLD.teams.map((team) => ({ ...team, members: [] })) };
  expect(relvik('check', charter, '--world', write('lonely.json', lonely))).toMatchObject({
    code: 0,
    err: `${charter}: warning: Nobody is in Team north: what the route Nordics matches waits in the bay (/streams/main/routes/north/to)\n`,
  });
});

test('activities bring their properties; kinds that do not exist are warned of, with counts', () => {
  const set = SMALL_CHARTER.scoreSets[0]!;
  const having = [{ property: 'page', test: 'is', values: ['/pricing'] }];
  const visited = { kind: 'activity', key: 'visited', name: 'Visited', axis: 'engagement', points: 7, having };
  const asking = write('asking.json', {
    ...SMALL_CHARTER,
    scoreSets: [{ ...set, signals: [{ ...visited, activity: 'page_visited' }] }],
  });
  const activities = write(
    'visits.csv',
    [
      'record,kind,at,page',
      'one,page_visited,2026-03-01T08:00:00Z,/pricing',
      'one,page_visited,2026-03-01T09:00:00Z,/about',
      'one,letter_sent,2026-03-01T09:00:00Z,',
      'two,letter_sent,2026-03-01T09:00:00Z,',
    ].join('\n'),
  );
  const files = ['--charter', asking, '--world', world, '--records', write('records.csv', RECORDS)];
  const { code, err } = relvik(
    ...[
      'decide',
      ...files,
      '--activities',
      activities,
      '--as-of',
      '2026-03-02T09:00:00Z',
      '--out',
      file('visits.ndjson'),
    ],
  );
  expect([code, err]).toEqual([0, `${activities}: warning: no such kind of activity: letter_sent (2 of 4 rows)\n`]);
  const [first] = readFileSync(file('visits.ndjson'), 'utf8').split('\n');
  expect(JSON.parse(first ?? '')).toMatchObject({ id: 'one', engagement: { score: 7 } });
});

test('the example in docs is sound, and what it decides is what it shows', () => {
  const example = (name: string) => join(root, 'docs/example', name);
  const [drawn, around] = [example('charter.json'), example('world.json')];
  expect(relvik('check', drawn, '--world', around)).toMatchObject({ code: 0, err: '' });
  const files = ['--charter', drawn, '--world', around, '--records', example('records.csv')];
  const more = ['--activities', example('activities.csv'), '--as-of', '2026-03-12T09:00:00Z'];
  expect(relvik('decide', ...files, ...more, '--out', file('example.ndjson'))).toMatchObject({ code: 0, err: '' });
  const lines = readFileSync(file('example.ndjson'), 'utf8').trimEnd().split('\n');
  const shown = lines.map((line) => {
    const { id, grade, stage, route, place } = JSON.parse(line) as Record<string, string | null>;
    return [id, grade, stage, route, place].map((one) => one ?? '–').join(' · ');
  });
  expect(shown).toEqual([
    '1 · A lively · qualified · large · owner',
    '2 · A stirring · qualified · lowlands · owner',
    '3 · A lively · qualified · abroad · queue',
    '4 · C quiet · unfit · – · not-handed-over',
    '5 · – · new · – · not-handed-over',
    '6 · – · warm · – · bay',
  ]);
});

const ASKS = { kind: 'asks', withoutOwner: null, alternatives: [] };

test('companies are graded by their own sets and fields; gates of leads and deals read the company across a tie', () => {
  const [leads] = SMALL_CHARTER.scoreSets;
  const isKey = { test: 'one-of', subject: { kind: 'field', field: 'company.key_account' }, values: ['yes'] };
  const attribute = { kind: 'attribute', axis: 'fit', on: true, group: null };
  const firms = {
    ...leads!,
    ...{ key: 'firms', of: 'company', groups: [] },
    signals: [{ ...attribute, key: 'is-key', name: 'Key account', points: 80, when: isKey }],
  };
  const both = write('both.json', {
    ...SMALL_CHARTER,
    scoreSets: [leads, firms],
    gates: [
      { key: 'key', name: 'Key accounts', from: 'new', to: 'qualified', on: true, when: isKey },
      { key: 'offer', name: 'Offer', from: 'deal-open', to: 'deal-offer', on: true, when: isKey },
      { key: 'sure', name: 'Sure?', from: 'deal-offer', to: 'deal-won', on: true, when: isKey, decider: ASKS },
    ],
  });
  const run = (kind: string, csv: string) => {
    const records = write(`${kind}.csv`, csv);
    const files = ['--charter', both, '--world', world, '--records', records, '--out', file(`${kind}.jsonl`)];
    const done = relvik('decide', '--kind', kind, ...files, '--as-of', '2026-03-02T09:00:00Z');
    return { ...done, lines: done.code === 0 ? readLines(`${kind}.jsonl`) : [] };
  };
  const { lines } = run('company', 'id,company.key_account\na,yes\nb,no\n');
  expect(lines).toMatchObject([
    { id: 'a', kind: 'company', scoreSet: 'firms', fit: { score: 80 }, grade: 'A quiet' },
    { id: 'b', kind: 'company', fit: { score: 0 }, grade: 'C quiet' },
  ]);
  expect(run('lead', 'id,industry,company.key_account\na,Mill,yes\nb,Mill,no\nc,Mill,\n').lines).toMatchObject([
    { id: 'a', stage: 'qualified' },
    { id: 'b', stage: 'new' },
    { id: 'c', stage: 'new' },
  ]);
  expect(run('deal', 'id,stage,company.key_account\na,,yes\nb,,no\nc,deal-won,yes\n').lines).toMatchObject([
    { id: 'a', kind: 'deal', stage: 'deal-offer', status: 'open', asks: [{ gate: 'sure', pick: 'deal-won' }] },
    { id: 'b', stage: 'deal-open', status: 'open', asks: [] },
    { id: 'c', stage: 'deal-won', status: 'won', asks: [] },
  ]);
  expect(run('contact', 'id,company.key_account\na,yes\n')).toMatchObject({
    code: 1,
    err: expect.stringMatching(/no such field: company.key_account/) as string,
  });
});

test('a lead enters the pipeline into which it came; a merged stage stands for the one that took it over', () => {
  const [leads, deals] = SMALL_CHARTER.pipelines;
  const stage = (key: string, mergedFrom: string[] = []) => ({ key, name: key, kind: 'open', mergedFrom });
  const care = {
    key: 'care',
    name: 'Care',
    of: 'lead',
    stages: [stage('asked'), stage('fits', ['heard'])],
    entry: 'asked',
  };
  const two = write('two.json', { ...SMALL_CHARTER, pipelines: [leads, deals, care] });
  const run = (csv: string) => {
    const files = ['--charter', two, '--world', world, '--records', write('two.csv', csv), '--out', file('two.ndjson')];
    return relvik('decide', ...files, '--as-of', '2026-03-02T09:00:00Z');
  };
  // The first pipeline declines who says nothing.
  expect(run('id,pipeline,stage\na,care,\nb,,\nc,,heard\n').code).toBe(0);
  expect(readLines('two.ndjson')).toMatchObject([{ stage: 'asked' }, { stage: 'out' }, { stage: 'fits' }]);
  const { code, err } = run('id,pipeline\na,deals\n');
  expect([code, err]).toEqual([1, expect.stringMatching(/row 1: pipeline: no such pipeline: deals/)]);
});
