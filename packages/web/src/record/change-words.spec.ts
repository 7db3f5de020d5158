import type { Changed } from '@relvik/contracts';
import { namesFrom, NO_NAMES, type QueueKey, type RepKey, type Wording } from '@relvik/core';
import { causeWords, changeWords } from './change-words';

const named = (key: string, name: string) => [{ key, name }];
const wording: Wording = {
  names: namesFrom({
    ...NO_NAMES,
    fields: named('industry', 'Industry'),
    stages: named('new', 'New'),
    gates: named('qualify', 'Qualify'),
    territories: named('dach', 'D-A-CH'),
    fitBands: named('b', 'Middling'),
    engagementBands: named('active', 'active'),
    routes: named('north', 'North'),
    reps: named('ada', 'Ada Lindqvist'),
    queues: named('projects', 'Projects'),
  }),
  fields: new Map([['land', { key: 'land', name: 'Land', type: 'country', options: [], retired: false }]]),
  baseCurrency: 'EUR',
};

test.each<[string, Changed, Changed, string | null, { what: string; from: string | null; to: string }]>([
  [
    'place',
    { kind: 'queue', queue: 'projects' as QueueKey },
    { kind: 'owner', rep: 'ada' as RepKey },
    null,
    { what: 'Where it is', from: 'queue Projects', to: 'Ada Lindqvist' },
  ],
  [
    'place',
    null,
    { kind: 'bay', reason: { why: 'unjudged', fields: ['industry'] } },
    null,
    { what: 'Where it is', from: null, to: 'the bay, can’t be judged' },
  ],
  ['stage', null, 'new', null, { what: 'Stage', from: null, to: 'New' }],
  ['territory', 'dach', null, null, { what: 'Territory', from: 'D-A-CH', to: 'nothing' }],
  ['grade', 'B quiet', 'b/active', null, { what: 'Grade', from: 'B quiet', to: 'Middling active' }],
  ['status', 'open', 'lost', 'too dear', { what: 'Status', from: 'open', to: 'lost: too dear' }],
  [
    'industry',
    { kind: 'shown', text: 'Brewery' },
    { kind: 'text', text: 'Vineyard', folded: 'vineyard' },
    null,
    { what: 'Industry', from: 'Brewery', to: 'Vineyard' },
  ],
  ['land', null, { kind: 'text', text: 'NO', folded: 'no' }, null, { what: 'land', from: null, to: 'Norway' }],
])('a change of %s from %j to %j', (field, from, to, reason, words) => {
  expect(changeWords({ field, from, to, reason }, wording)).toEqual(words);
});

test('what made a change is a person, a way in, a rule by its name, or Relvik', () => {
  const by = { by: '', charter: null, rule: null, field: 'stage' };
  expect(causeWords({ ...by, cause: 'hand', by: 'Ada Lindqvist' }, wording)).toBe('Ada Lindqvist');
  expect(causeWords({ ...by, cause: 'api', by: 'fair' }, wording)).toBe('key fair');
  expect(causeWords({ ...by, cause: 'rule', charter: 3, rule: 'qualify' }, wording)).toBe('charter 3, gate “Qualify”');
  expect(causeWords({ ...by, cause: 'rule', charter: 3, rule: 'north', field: 'place' }, wording)).toBe(
    'charter 3, route “North”',
  );
  expect(causeWords({ ...by, cause: 'relvik' }, wording)).toBe('Relvik');
});
