import { namesFrom, type Wording } from '@relvik/core';
import { changeWords } from './change-words';

const named = (key: string, name: string) => [{ key, name }];
const wording: Wording = {
  names: namesFrom({
    fields: named('industry', 'Industry'),
    stages: named('new', 'New'),
    gates: [],
    sets: [],
    signals: [],
    verdicts: [],
    territories: named('dach', 'D-A-CH'),
    routes: [],
    reps: named('ada', 'Ada Lindqvist'),
    teams: [],
    queues: named('projects', 'Projects'),
    groups: [],
    activities: [],
  }),
  fields: new Map([['land', { key: 'land', name: 'Land', type: 'country', options: [], retired: false }]]),
  baseCurrency: 'EUR',
};

test.each([
  ['place', 'queue:projects', 'owner:ada', { what: 'Where it is', from: 'queue Projects', to: 'Ada Lindqvist' }],
  ['place', null, 'bay:unjudged', { what: 'Where it is', from: null, to: 'the bay, can’t be judged' }],
  ['place', 'owner:somebody', 'not-handed-over', { what: 'Where it is', from: 'a colleague', to: 'not handed over' }],
  ['stage', null, 'new', { what: 'Stage', from: null, to: 'New' }],
  ['territory', 'dach', null, { what: 'Territory', from: 'D-A-CH', to: 'nothing' }],
  ['industry', 'Brewery', 'Vineyard', { what: 'Industry', from: 'Brewery', to: 'Vineyard' }],
  ['land', null, 'NO', { what: 'land', from: null, to: 'Norway' }],
])('a change of %s from %s to %s', (field, from, to, words) => {
  expect(changeWords({ field, from, to }, wording)).toEqual(words);
});
