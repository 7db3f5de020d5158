import { SMALL_CHARTER, lead, NOW, smallCharter, smallWorld } from '../charter/charter.fixture';
import type { Condition } from '../condition/condition';
import { decide } from '../decide/decide';
import type { BayReason } from '../record/bay';
import type { Place } from '../record/place';
import type { Exclusion } from '../people/eligible';
import type { NobodyFree, Route } from '../route/route';
import type { TerritoryAnswer } from '../territory/coverage';
import { conditionWords } from '../wording/condition-words';
import { groupDigits } from '../wording/subject-words';
import { accountWords, reasonsOf } from './decision-words';
import { namesOf } from '../charter/charter-names';
import { bayWords, exclusionWords, gradeWords, placeWords, territoryWords } from '../wording/place-words';
import { demandsWords, leadsToWords, nobodyFreeWords } from '../wording/route-words';

const world = smallWorld();
const charter = smallCharter(world);
const names = namesOf(charter.charter, world);
const wording = { names, fields: world.fields, baseCurrency: 'EUR' };
const range = (field: string, from: [string, boolean] | null, to: [string, boolean] | null): Condition => ({
  test: 'range',
  subject: { kind: 'field', field },
  from: from && { at: from[0], included: from[1] },
  to: to && { at: to[0], included: to[1] },
});
const clicked = (within: number | null, [from, to]: [string | null, string | null] | [string, string]): Condition => ({
  test: 'range',
  subject: { kind: 'happened', activity: 'mail_clicked', having: [], within },
  from: from === null ? null : { at: from, included: true },
  to: to === null ? null : { at: to, included: true },
});
const brewery: Condition = { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] };

test.each<[Condition, string]>([
  [brewery, 'Industry is Brewery'],
  [
    { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery', 'Fish farm', 'Golf course'] },
    'Industry is Brewery, Fish farm or Golf course',
  ],
  [
    { test: 'one-of', subject: { kind: 'field', field: 'country' }, values: ['NO', 'deu'] },
    'Country is Norway or Germany',
  ],
  [
    { test: 'one-of', subject: { kind: 'verdict' }, values: ['hand-over-now', 'nurture'] },
    'Verdict is Hand over now or Nurture',
  ],
  [{ test: 'one-of', subject: { kind: 'territory' }, values: ['dach'] }, 'Territory is D-A-CH'],
  [{ test: 'inside', subject: { kind: 'territory' }, values: ['dach'] }, 'Territory lies in D-A-CH'],
  [
    { test: 'ends-with', subject: { kind: 'field', field: 'email' }, values: ['@a.example', '@b.example'] },
    'E-mail ends with “@a.example” or “@b.example”',
  ],
  [range('employees', ['50', true], ['500', false]), 'Employees in [50, 500)'],
  [range('employees', ['1000', false], ['20000', true]), 'Employees in (1,000, 20,000]'],
  [range('employees', null, ['10', false]), 'Employees below 10'],
  [range('employees', null, ['10', true]), 'Employees up to 10'],
  [range('deal_value', ['20000', true], null), 'Deal value from 20,000 EUR'],
  [range('deal_value', ['20000', false], null), 'Deal value above 20,000 EUR'],
  [{ test: 'blank', subject: { kind: 'field', field: 'email' } }, 'E-mail is blank'],
  [
    { test: 'one-of', subject: { kind: 'currency', field: 'deal_value' }, values: ['NOK', 'SEK'] },
    'Deal value is in NOK or SEK',
  ],
  [
    {
      test: 'range',
      subject: { kind: 'amount', field: 'deal_value' },
      from: { at: '7500', included: false },
      to: null,
    },
    'Deal value as entered above 7,500',
  ],
  [clicked(null, ['1', null]), 'Mail clicked at least once'],
  [clicked(30, [null, '0']), 'Mail clicked in the last 30 days never'],
  [clicked(1, ['2', '4']), 'Mail clicked in the last day in [2, 4] times'],
  [
    {
      test: 'range',
      subject: {
        kind: 'happened',
        activity: 'page_visited',
        having: [{ property: 'page', test: 'is', values: ['/pricing'] }],
        within: null,
      },
      from: { at: '2', included: true },
      to: null,
    },
    'Page visited, page is “/pricing”, from 2 times',
  ],
  [
    {
      test: 'range',
      subject: { kind: 'days-since', day: { kind: 'last-activity' } },
      from: { at: '30', included: true },
      to: null,
    },
    'Last activity from 30 days ago',
  ],
  [
    { test: 'range', subject: { kind: 'days-in-stage' }, from: { at: '14', included: true }, to: null },
    'Days in this stage from 14',
  ],
  [
    { test: 'range', subject: { kind: 'arrived' }, from: { at: '2026-01-01', included: true }, to: null },
    'Arrived from 2026-01-01',
  ],
  [{ test: 'one-of', subject: { kind: 'way-in' }, values: ['form', 'csv'] }, 'Way in is Hosted form or CSV file'],
  [
    { test: 'not', of: { test: 'one-of', subject: { kind: 'owner' }, values: ['ada'] } },
    'not (Owner is Ada Lindqvist)',
  ],
  [{ test: 'not', of: brewery }, 'not (Industry is Brewery)'],
  [{ test: 'all', of: [] }, 'always'],
  [{ test: 'any', of: [] }, 'never'],
  [
    {
      test: 'all',
      of: [
        brewery,
        {
          test: 'any',
          of: [
            { test: 'blank', subject: { kind: 'field', field: 'email' } },
            { test: 'blank', subject: { kind: 'field', field: 'country' } },
          ],
        },
      ],
    },
    'Industry is Brewery and (E-mail is blank or Country is blank)',
  ],
  [{ test: 'any', of: [{ test: 'all', of: [brewery] }] }, 'Industry is Brewery'],
])('%j reads “%s”', (condition, words) => {
  expect(conditionWords(condition, wording)).toBe(words);
});

test.each([
  ['1234567', '1,234,567'],
  ['-1234.5678', '-1,234.5678'],
  ['399000 NOK', '399,000 NOK'],
  ['999', '999'],
  ['about 1000', 'about 1000'],
])('%s is shown as %s', (text, shown) => {
  expect(groupDigits(text)).toBe(shown);
});

test.each<[BayReason, string]>([
  [
    { why: 'nobody-free', route: 'north' as never, rep: null, team: 'north' as never },
    'Route “Nordics” matches, but nobody in Team north is free',
  ],
  [
    { why: 'nobody-free', route: 'large' as never, rep: 'ada' as never, team: null },
    'Route “Large deals” matches, but Ada Lindqvist is not free',
  ],
  [{ why: 'unjudged', fields: ['employees', 'territory'] }, 'Can’t be judged: Employees, Territory'],
  [{ why: 'loop', gates: ['qualify', 'decline', 'qualify'] }, 'Runs in a circle through “Qualify”, “Decline”'],
])('the bay because of %j reads “%s”', (reason, words) => {
  expect(bayWords(reason, names)).toBe(words);
  expect(placeWords({ kind: 'bay', reason }, names)).toBe(`Bay: ${words}`);
});

test.each<[Place, string]>([
  [{ kind: 'owner', rep: 'bo' as never }, 'Bo Rask'],
  [{ kind: 'owner', rep: 'gone' as never }, 'a colleague'],
  [{ kind: 'queue', queue: 'projects' as never }, 'Queue Projects'],
  [{ kind: 'not-handed-over', verdict: 'no-action' }, 'Not handed over: No action'],
  [{ kind: 'not-handed-over', verdict: null }, 'Not handed over'],
])('the place %j reads “%s”', (place, words) => {
  expect(placeWords(place, names)).toBe(words);
});

test.each<[Pick<Route, 'to' | 'method'>, string]>([
  [{ to: { kind: 'rep', rep: 'ada' as never }, method: 'weighted' }, 'Ada Lindqvist'],
  [{ to: { kind: 'reps', reps: ['bo', 'ada'] as never }, method: 'random' }, 'Bo Rask, Ada Lindqvist, random'],
  [{ to: { kind: 'team', team: 'north' as never } }, 'Team north, round robin'],
  [
    { to: { kind: 'team', team: 'north' as never, inside: true }, method: 'lightest-load' },
    'Team north with teams inside, lightest load',
  ],
  [{ to: { kind: 'skilled' }, method: 'first-free' }, 'everyone with the skills, first free'],
  [{ to: { kind: 'queue', queue: 'projects' as never } }, 'queue Projects'],
  [{ to: { kind: 'nobody', reason: 'a competitor' } }, 'nobody: a competitor'],
])('the destination %j reads “%s”', (route, words) => {
  expect(leadsToWords(route, names)).toBe(words);
});

test('who counts as free is told as far as it is not the usual', () => {
  const route = charter.charter.streams[0]!.routes[0]!;
  expect(demandsWords(route, names)).toBe('');
  const elsewhere: NobodyFree = { kind: 'elsewhere', to: { kind: 'team', team: 'north' as never } };
  expect(
    demandsWords(
      {
        ...route,
        respects: { hours: false, limit: false },
        skills: [{ skill: 'trades', field: 'industry' }],
        nobodyFree: elsewhere,
      },
      names,
    ),
  ).toBe('at any hour; beyond limits; skilled in the lead’s Industry (trades); nobody free: Team north');
  expect(nobodyFreeWords({ kind: 'ignore-limits' }, names)).toBe('ignore limits');
});

test.each<[TerritoryAnswer, string]>([
  [{ found: 'covered', territory: 'nordics' as never }, 'Nordics'],
  [{ found: 'pinned', territory: 'dach' as never }, 'D-A-CH, pinned by hand'],
  [{ found: 'open-ground' }, 'open ground: no territory covers the address'],
  [{ found: 'no-address' }, 'none: no country is given'],
  [{ found: 'unjudged', raw: 'Norwey' }, 'can’t be told: “Norwey” is not a country'],
  [{ found: 'unjudged', raw: 'Calif', part: 'region' }, 'can’t be told: “Calif” is not a region'],
  [{ found: 'covered', territory: 'nordics' as never, by: 'postalCode' }, 'Nordics, by its postal code'],
])('the territory %j reads “%s”', (answer, words) => {
  expect(territoryWords(answer, names)).toBe(words);
});

test('why someone was skipped', () => {
  const why = (exclusion: Exclusion, zone?: string): string => exclusionWords(exclusion, names, zone);
  expect(why({ why: 'may-not-take-leads' })).toBe('may not take leads');
  expect(why({ why: 'at-limit', open: 7, limit: 7 })).toBe('has 7 open leads, the limit is 7');
  expect(why({ why: 'not-here' })).toBe('is not here any more');
  expect(why({ why: 'not-available' })).toBe('not available');
  expect(why({ why: 'away' })).toBe('is away');
  expect(why({ why: 'team-paused', team: 'north' as never })).toBe('Team north is paused');
  expect(why({ why: 'lacks-skill', skill: 'trades', asked: ['brewery', 'mill'] })).toBe(
    'does not have brewery or mill (trades)',
  );
  const next = Date.parse('2026-03-02T07:00:00Z');
  expect(why({ why: 'outside-hours', next })).toBe('does not work until Mon 2 Mar 07:00 UTC');
  expect(why({ why: 'outside-hours', next }, 'Europe/Oslo')).toBe('does not work until Mon 2 Mar 08:00');
  expect(why({ why: 'outside-hours', next: null })).toBe('does not work');
});

test('an account names only the tests that settled the answer, each with what it read', () => {
  const decision = decide(
    charter,
    lead(world, { industry: 'Golf course', employees: '49', country: 'NO' }),
    world,
    'created',
    NOW,
  );
  const account = (signal: string) => decision.score.signals.find((one) => one.signal === signal)?.account;
  expect(accountWords(account('trade')!, wording)).toBe('Industry is Brewery or Fish farm (is Golf course)');
  expect(accountWords(account('size')!, wording)).toBe('Employees from 50 (is 49)');
  expect(accountWords(account('free')!, wording)).toBe('E-mail ends with “@mail.example” (it is blank)');
});

test('the reasons of a decision stand in the order of the way, and name what came in wrong first', () => {
  const decision = decide(
    charter,
    lead(world, { industry: 'Mill', employees: 'many', country: 'Atlantis' }),
    world,
    'created',
    NOW,
  );
  const reasons = reasonsOf(decision, wording);
  expect(reasons.slice(0, 3)).toEqual([
    { step: 'value', text: 'Country: “Atlantis” is not a country' },
    { step: 'value', text: 'Employees: “many” is not a number' },
    { step: 'value', text: 'Industry: “Mill” is not one of the options' },
  ]);
  expect(reasons).toContainEqual({ step: 'score', text: 'fit no score: Industry, Employees can’t be judged' });
  expect(reasons).toContainEqual({
    step: 'gate',
    text: 'Qualify: can’t be judged (Verdict is Hand over now or Hand over)',
  });
  expect(reasons.at(-1)).toEqual({ step: 'place', text: 'Bay: Can’t be judged: Industry, Employees' });
  const steps = ['value', 'score', 'grade', 'gate', 'territory', 'route', 'place'];
  const order = reasons.map(({ step }) => steps.indexOf(step));
  expect(order).toEqual([...order].sort((a, b) => a - b));
});

test('every verdict, stage and route of a charter has its name', () => {
  for (const { key, name } of SMALL_CHARTER.verdicts) expect(names.verdict(key)).toBe(name);
  for (const { key, name } of SMALL_CHARTER.pipelines[0]!.stages) expect(names.stage(key)).toBe(name);
  for (const { key, name } of SMALL_CHARTER.streams[0]!.routes) expect(names.route(key)).toBe(name);
  expect([names.fitBand('b'), names.engagementBand('active')]).toEqual(['B', 'active']);
  expect([gradeWords('b/active', names), gradeWords('B active', names)]).toEqual(['B active', 'B active']);
  expect(names.field('engagement_band')).toBe('Engagement band');
});
