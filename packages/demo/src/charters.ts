import { NAMED_SUBJECTS } from '@relvik/core';

/** The charter in force of the demo, and the draft that is being drawn, as JSON. */

/** A field, or something computed, by its key. */
const about = (key: string) => NAMED_SUBJECTS.get(key) ?? { kind: 'field', field: key };

const is = (field: string, value: string) => ({ test: 'one-of', subject: about(field), values: [value] });
const oneOf = (field: string, ...values: string[]) => ({ test: 'one-of', subject: about(field), values });
const contains = (field: string, ...values: string[]) => ({ test: 'contains', subject: about(field), values });
const endsWith = (field: string, ...values: string[]) => ({ test: 'ends-with', subject: about(field), values });
const blank = (field: string) => ({ test: 'blank', subject: about(field) });
const all = (...of: object[]) => ({ test: 'all', of });
const any = (...of: object[]) => ({ test: 'any', of });
const not = (of: object) => ({ test: 'not', of });
const from = (field: string, at: number) => ({
  test: 'range',
  subject: about(field),
  from: { at: String(at), included: true },
  to: null,
});
const below = (field: string, at: number) => ({
  test: 'range',
  subject: about(field),
  from: null,
  to: { at: String(at), included: false },
});
const within = (field: string, low: number, high: number) => ({
  test: 'range',
  subject: about(field),
  from: { at: String(low), included: true },
  to: { at: String(high), included: false },
});

const fit = (key: string, name: string, points: number, when: object) => ({
  kind: 'attribute',
  key,
  name,
  axis: 'fit',
  on: true,
  points,
  when,
});
const did = (key: string, name: string, points: number, activity: string, most: number | null) => ({
  kind: 'activity',
  key,
  name,
  axis: 'engagement',
  on: true,
  points,
  activity,
  most,
});
const happened = (activity: string, within: number | null = null) => ({
  test: 'range',
  subject: { kind: 'happened', activity, having: [], within },
  from: { at: '1', included: true },
  to: null,
});
/** That it lies in a territory, or in one inside it. */
const inside = (...values: string[]) => ({ test: 'inside', subject: { kind: 'territory' }, values });
const halving = (days: number) => ({ fade: { kind: 'half-life', days } });
const gate = (key: string, name: string, source: string, target: string, when: object) => ({
  key,
  name,
  from: source,
  to: target,
  on: true,
  when,
});
const route = (key: string, name: string, when: object, to: object, how: object = {}) => ({
  ...{ key, name, on: true, when, to },
  ...how,
});
const method = (by: string) => ({ method: by });
const whenNobodyIsFree = (kind: string) => ({ nobodyFree: { kind } });
const BY_INDUSTRY = { skills: [{ skill: 'industries', field: 'industry' }] };
const task = (work: string, title: string, minutes: number) => ({ kind: 'task', work, title, minutes, working: true });
const FIRST_CALL = { work: 'call', title: 'First call', minutes: 60, working: true };
const territory = (key: string, name: string, parent: string | null, ...countries: string[]) => ({
  key,
  name,
  parent,
  countries,
});
/** The code of a territory, the team that works it, and its manager. */
const worked = (code: string, team: string, manager: string) => ({ code, team, manager });
const team = (key: string) => ({ kind: 'team', team: key });
const person = (key: string) => ({ kind: 'rep', rep: key });
const queue = (key: string) => ({ kind: 'queue', queue: key });

/** The score that the set for care plans gives beside the grade. */
const careScore = (axis: string, at: number) => ({
  test: 'range',
  subject: { kind: 'set-score', set: 'care-plan', axis },
  from: { at: String(at), included: true },
  to: null,
});

const HANDED_OVER = oneOf('verdict', 'hand-over-now', 'hand-over');

export function charterInForce() {
  return {
    format: 'relvik-charter',
    version: 4,
    name: 'Spring cut',
    timeZone: 'Europe/Oslo',
    baseCurrency: 'EUR',
    pipelines: [
      {
        key: 'leads',
        name: 'Sensing networks',
        of: 'lead',
        stages: [
          { key: 'new', name: 'New', kind: 'open' },
          { key: 'nurture', name: 'Nurture', kind: 'open', beside: true },
          { key: 'qualified', name: 'Qualified', kind: 'open' },
          { key: 'site-known', name: 'Site known', kind: 'open' },
          { key: 'disqualified', name: 'Disqualified', kind: 'out' },
        ],
        entry: 'new',
      },
      {
        key: 'care',
        name: 'Care plans',
        of: 'lead',
        stages: [
          { key: 'care-asked', name: 'Asked', kind: 'open' },
          { key: 'care-season', name: 'Rests till spring', kind: 'open', beside: true },
          { key: 'care-fits', name: 'Plan fits', kind: 'open' },
          { key: 'care-yearly', name: 'Yearly plan', kind: 'open' },
          { key: 'care-trial', name: 'Probe trial', kind: 'open' },
          { key: 'care-none', name: 'No plan wanted', kind: 'out' },
        ],
        entry: 'care-asked',
      },
      {
        key: 'deals',
        name: 'Deals',
        of: 'deal',
        stages: [
          { key: 'deal-talks', name: 'In talks', kind: 'open' },
          { key: 'deal-survey', name: 'Site survey', kind: 'open' },
          { key: 'deal-offer', name: 'Offer made', kind: 'open' },
          { key: 'deal-won', name: 'Won', kind: 'won' },
          { key: 'deal-lost', name: 'Lost', kind: 'lost' },
        ],
        entry: 'deal-talks',
      },
    ],
    verdicts: [
      { key: 'hand-over-now', name: 'Hand over now', notify: ['owner'] },
      { key: 'hand-over', name: 'Hand over' },
      { key: 'nurture', name: 'Nurture' },
      { key: 'no-action', name: 'No action' },
      { key: 'decline', name: 'Decline' },
    ],
    scoreSets: [
      {
        key: 'sensing',
        name: 'Leads, sensing networks',
        on: true,
        when: all(),
        fit: { least: 0, most: 100, decimals: 0 },
        engagement: { least: 0, most: 100, decimals: 0 },
        signals: [
          fit(
            'core-industry',
            'Industry that knows its water',
            20,
            oneOf('industry', 'Fish farm', 'Brewery', 'Waterworks'),
          ),
          fit('near-industry', 'Pulp mill', 16, is('industry', 'Pulp mill')),
          fit('small-industry', 'Vineyard or golf course', 4, oneOf('industry', 'Vineyard', 'Golf course')),
          fit(
            'large-brewery',
            'Brewery with yearly volume in [60,000, 1,800,000)',
            12,
            all(is('industry', 'Brewery'), within('volume', 60_000, 1_800_000)),
          ),
          fit('mid-size', 'Employees in [40, 400)', 16, within('employees', 40, 400)),
          fit('large', 'Employees from 400', 20, from('employees', 400)),
          fit('tiny', 'Employees below 8', -12, below('employees', 8)),
          fit('many-points', 'Twelve measuring points or more', 16, from('points', 12)),
          fit('budget', 'Deal value from 18,000', 16, from('deal_value', 18_000)),
          fit('big-budget', 'Deal value from 120,000', 12, from('deal_value', 120_000)),
          fit(
            'title',
            'Title contains plant, operations or quality',
            16,
            contains('title', 'plant', 'operations', 'quality', 'drift', 'betrieb'),
          ),
          fit('student', 'Student or intern', -32, contains('title', 'student', 'intern')),
          fit(
            'free-mailbox',
            'Free mailbox',
            -12,
            endsWith('email', '@postbox.example', '@mailinn.example', '@freepost.example'),
          ),
          fit(
            'rival',
            'Works for a maker of sensors',
            -60,
            endsWith('email', '@sensorika.example', '@probeworks.example'),
          ),
          fit('referral', 'Came by referral', 12, is('source', 'Referral')),
          fit('by-hand', 'Measures by hand today', 12, is('by_hand', 'yes')),
          fit('no-product', 'No product interest named', -4, blank('product')),
          { ...did('opened', 'Mail opened', 4, 'mail_opened', 5), ...halving(60) },
          did('clicked', 'Mail clicked', 8, 'mail_clicked', 4),
          did('bounced', 'Mail bounced', -8, 'mail_bounced', 3),
          did('unsubscribed', 'Unsubscribed', -32, 'mail_unsubscribed', 1),
          { ...did('page', 'Page visited', 2, 'page_visited', 5), ...halving(60) },
          {
            ...did('pricing', 'Pricing page visited', 16, 'page_visited', 2),
            having: [{ property: 'page', test: 'is', values: ['/pricing'] }],
          },
          did('form', 'Form filled', 20, 'form_filled', 2),
          did('call', 'Call taken', 16, 'call_taken', 2),
          did('event', 'Webinar or event attended', 12, 'event_attended', 2),
        ],
        grid: {
          fit: {
            bands: [
              { key: 'e', name: 'E' },
              { key: 'd', name: 'D' },
              { key: 'c', name: 'C' },
              { key: 'b', name: 'B' },
              { key: 'a', name: 'A' },
            ],
            cuts: [16, 34, 52, 72],
          },
          engagement: {
            bands: [
              { key: 'quiet', name: 'quiet' },
              { key: 'stirring', name: 'stirring' },
              { key: 'active', name: 'active' },
              { key: 'eager', name: 'eager' },
            ],
            cuts: [14, 36, 62],
          },
          cells: [
            ['decline', 'no-action', 'no-action', 'nurture'],
            ['no-action', 'nurture', 'nurture', 'nurture'],
            ['nurture', 'nurture', 'hand-over', 'hand-over'],
            ['nurture', 'hand-over', 'hand-over', 'hand-over-now'],
            ['nurture', 'hand-over', 'hand-over-now', 'hand-over-now'],
          ],
        },
      },
      {
        key: 'care-plan',
        name: 'Care plan, an extra to sensing',
        on: true,
        when: any(from('points', 12), from('employees', 180)),
        fit: { least: 0, most: 60, decimals: 0 },
        engagement: { least: 0, most: 40, decimals: 0 },
        signals: [
          fit('care-points', 'Many measuring points to look after', 24, from('points', 24)),
          fit('care-staff', 'No hands to spare: employees below 90', 16, below('employees', 90)),
          fit('care-by-hand', 'Measures by hand today', 20, is('by_hand', 'yes')),
          did('care-call', 'Call taken', 16, 'call_taken', 2),
          { ...did('care-page', 'Pages visited', 4, 'page_visited', 5), ...halving(90) },
        ],
        grid: {
          fit: {
            bands: [
              { key: 'weak', name: 'weak' },
              { key: 'fair', name: 'fair' },
              { key: 'strong', name: 'strong' },
            ],
            cuts: [20, 40],
          },
          engagement: {
            bands: [
              { key: 'cold', name: 'cold' },
              { key: 'warm', name: 'warm' },
            ],
            cuts: [14],
          },
          cells: [
            ['no-action', 'no-action'],
            ['no-action', 'nurture'],
            ['nurture', 'hand-over'],
          ],
        },
      },
      {
        key: 'fleet',
        name: 'Companies, a fleet of sensors',
        of: 'company',
        on: true,
        when: not(is('company.industry', 'Golf course')),
        fit: { least: 0, most: 80, decimals: 0 },
        engagement: { least: 0, most: 100, decimals: 0 },
        signals: [
          fit(
            'fleet-industry',
            'Water is its business',
            24,
            oneOf('company.industry', 'Fish farm', 'Brewery', 'Waterworks'),
          ),
          fit('fleet-size', 'Employees from 90', 20, from('company.employees', 90)),
          fit('fleet-points', 'Two dozen measuring points or more', 24, from('company.points', 24)),
          fit('fleet-value', 'Deal value from 45,000', 12, from('company.deal_value', 45_000)),
          { ...did('fleet-calls', 'Calls taken, by anyone there', 16, 'call_taken', 4), ...halving(90) },
          { ...did('fleet-forms', 'Forms filled, by anyone there', 20, 'form_filled', 3), ...halving(120) },
          did('fleet-events', 'Events attended', 12, 'event_attended', 3),
        ],
        grid: {
          fit: {
            bands: [
              { key: 'small', name: 'small' },
              { key: 'middling', name: 'middling' },
              { key: 'great', name: 'great' },
            ],
            cuts: [24, 46],
          },
          engagement: {
            bands: [
              { key: 'distant', name: 'distant' },
              { key: 'in-talks', name: 'in talks' },
              { key: 'close', name: 'close' },
            ],
            cuts: [20, 48],
          },
          cells: [
            ['no-action', 'no-action', 'nurture'],
            ['no-action', 'nurture', 'hand-over'],
            ['nurture', 'hand-over', 'hand-over-now'],
          ],
        },
      },
      {
        key: 'deals',
        name: 'Deals, worth an extra visit',
        of: 'deal',
        on: true,
        when: all(),
        fit: { least: 0, most: 80, decimals: 0 },
        engagement: { least: 0, most: 60, decimals: 0 },
        signals: [
          fit('deal-large', 'Amount from 30,000', 32, from('deal.amount', 30_000)),
          fit('deal-key-account', 'Of a key account', 24, is('company.key_account', 'yes')),
          fit('deal-decider', 'With someone who decides', 14, contains('contact.title', 'director', 'owner', 'head')),
          { ...did('deal-calls', 'Calls taken about it', 15, 'call_taken', 2), ...halving(30) },
          { ...did('deal-meetings', 'Meetings held about it', 25, 'meeting_held', 2), ...halving(45) },
        ],
        grid: {
          fit: {
            bands: [
              { key: 'plain', name: 'plain' },
              { key: 'weighty', name: 'weighty' },
            ],
            cuts: [32],
          },
          engagement: {
            bands: [
              { key: 'still', name: 'still' },
              { key: 'moving', name: 'moving' },
            ],
            cuts: [15],
          },
          cells: [
            ['no-action', 'nurture'],
            ['hand-over', 'hand-over-now'],
          ],
        },
      },
    ],
    gates: [
      gate('declined', 'Declined by its grade', 'new', 'disqualified', is('verdict', 'decline')),
      gate('at-once', 'Qualified at once', 'new', 'qualified', HANDED_OVER),
      gate('to-nurture', 'Kept warm', 'new', 'nurture', oneOf('verdict', 'nurture', 'no-action')),
      {
        ...gate('ripened', 'Ripened', 'nurture', 'qualified', HANDED_OVER),
        effects: [{ kind: 'tag', tag: 'Kept warm' }, task('call', 'Ring again: it is warm now', 240)],
      },
      {
        ...gate('site-described', 'Site described', 'qualified', 'site-known', from('points', 4)),
        requiredFields: ['by_hand'],
        minDays: 2,
      },
      {
        ...gate('worth-a-visit', 'Worth a visit?', 'qualified', 'site-known', from('deal_value', 14_000)),
        decider: {
          kind: 'asks',
          withoutOwner: { kind: 'queue', queue: 'operations' },
          alternatives: [{ to: 'nurture', when: not(HANDED_OVER) }],
        },
      },
      gate('asks-for-care', 'Asks for a care plan', 'nurture', 'care-asked', careScore('engagement', 8)),
      gate('care-declined', 'Declined by its grade', 'care-asked', 'care-none', is('verdict', 'decline')),
      gate('plan-fits', 'A plan fits', 'care-asked', 'care-fits', careScore('fit', 36)),
      {
        ...gate('gone-quiet', 'Gone quiet', 'care-asked', 'care-season', not(careScore('engagement', 16))),
        minDays: 5,
      },
      {
        ...gate('season-begins', 'Spring begins', 'care-season', 'care-fits', careScore('engagement', 24)),
        minHours: 12,
      },
      {
        ...gate('which-plan', 'Which plan?', 'care-fits', 'care-yearly', careScore('fit', 36)),
        effects: [{ kind: 'tag', tag: 'Plan wanted' }],
        decider: {
          kind: 'asks',
          withoutOwner: { kind: 'team', team: 'north' },
          alternatives: [
            { to: 'care-trial', when: below('points', 12) },
            { to: 'care-season', when: not(careScore('engagement', 20)) },
          ],
        },
      },
      {
        ...gate('weighty-deal', 'Worth a site survey', 'deal-talks', 'deal-survey', from('deal.amount', 28_000)),
        effects: [{ kind: 'tag', tag: 'Weighty' }, task('meeting', 'Agree a day for the survey', 960)],
      },
      {
        ...gate('offer-ready', 'Ready for an offer?', 'deal-survey', 'deal-offer', happened('meeting_held')),
        requiredFields: ['deal.amount'],
        decider: { kind: 'asks', withoutOwner: { kind: 'queue', queue: 'operations' }, alternatives: [] },
      },
      {
        ...gate('gone-cold', 'Gone cold?', 'deal-offer', 'deal-lost', not(happened('call_taken', 30))),
        minDays: 14,
        decider: {
          ...{ kind: 'asks', withoutOwner: { kind: 'queue', queue: 'operations' } },
          alternatives: [{ to: 'deal-talks', when: from('deal.amount', 28_000) }],
        },
      },
    ],
    territories: {
      ...{ field: 'country', regionField: 'region', postalField: 'postal_code' },
      list: [
        {
          ...territory('nordics', 'Nordics', null, 'Sweden', 'Denmark', 'Finland'),
          ...worked('NO', 'north', 'manager'),
        },
        {
          ...territory('nordics-west', 'Nordics west', 'nordics', 'Norway', 'Iceland', 'Faroe Islands'),
          ...worked('NW', 'north', 'manager'),
        },
        {
          ...territory('dach', 'D-A-CH', null, 'Germany', 'Austria', 'Switzerland'),
          ...worked('DA', 'centre', 'manager'),
        },
        {
          ...{ ...territory('dach-south', 'Alps and Danube', 'dach'), ...worked('AD', 'centre', 'manager') },
          regions: ['DE-BY', 'AT-7', 'AT-5'],
          postalCodes: [{ kind: 'range', country: 'DE', from: '87000', to: '89999' }],
        },
        { ...territory('ruhr', 'Ruhr works', 'dach'), ...worked('RW', 'centre', 'manager'), regions: ['DE-RUHR'] },
        {
          ...territory('britain-ireland', 'Britain and Ireland', null, 'United Kingdom', 'Ireland'),
          ...worked('BI', 'isles', 'manager'),
        },
        { ...territory('scotland', 'Scotland and its isles', 'britain-ireland'), regions: ['GB-SCT'] },
        { ...territory('iberia', 'Iberia', null, 'Spain', 'Portugal'), ...worked('IB', 'south', 'manager-south') },
        {
          ...territory('united-states', 'United States', null, 'United States'),
          ...worked('US', 'overseas', 'manager-south'),
        },
        { ...territory('pacific-states', 'Pacific states', 'united-states'), regions: ['US-CA', 'US-OR', 'US-WA'] },
        {
          ...territory('great-lakes', 'Great Lakes', 'united-states'),
          regions: ['US-IL', 'US-MI', 'US-OH', 'US-WI'],
          postalCodes: [{ kind: 'prefix', country: 'US', prefix: '142' }],
        },
        { ...territory('canada', 'Canada', null, 'Canada'), ...worked('CA', 'overseas', 'manager-south') },
        {
          ...territory('australia', 'Australia', null, 'Australia', 'New Zealand'),
          ...worked('AN', 'overseas', 'manager-south'),
        },
      ],
    },
    streams: [
      {
        key: 'qualified',
        name: 'Qualified leads',
        on: true,
        entering: ['qualified'],
        again: ['territory-changed'],
        when: all(),
        routes: [
          route(
            'key-accounts',
            'Key accounts',
            is('company.key_account', 'yes'),
            person('maren'),
            whenNobodyIsFree('ignore-limits'),
          ),
          route(
            'customers',
            'Customers stay with their owner',
            all(),
            { kind: 'company-owner' },
            whenNobodyIsFree('next-route'),
          ),
          route('large-projects', 'Projects from 160,000', from('deal_value', 160_000), queue('projects')),
          route('partner-leads', 'Brought by partners', is('source', 'Partner'), queue('partner-desk')),
          route(
            'north-west-fish',
            'Fish farms in the west',
            all(is('territory', 'nordics-west'), is('industry', 'Fish farm'), from('deal_value', 18_000)),
            team('north'),
            { ...method('lightest-load'), ...BY_INDUSTRY, tasks: [FIRST_CALL] },
          ),
          route('nordics', 'Nordics', inside('nordics'), team('north'), method('weighted')),
          route(
            'dach-mills',
            'Mills and waterworks, D-A-CH',
            all(inside('dach'), oneOf('industry', 'Pulp mill', 'Waterworks')),
            team('centre'),
            { ...method('first-on-the-list'), ...BY_INDUSTRY, ...whenNobodyIsFree('next-route') },
          ),
          route('dach', 'D-A-CH', inside('dach'), team('centre')),
          route('isles', 'Britain and Ireland', inside('britain-ireland'), team('isles'), method('lightest-load')),
          route('iberia', 'Iberia', is('territory', 'iberia'), team('south'), { tasks: [FIRST_CALL] }),
          route(
            'america-large',
            'North America from 45,000',
            all(inside('united-states', 'canada'), from('deal_value', 45_000)),
            { kind: 'handed-on', team: 'overseas', queue: 'desk-south', minutes: 240 },
            method('first-free'),
          ),
          route(
            'overseas',
            'Overseas',
            inside('united-states', 'canada', 'australia'),
            team('overseas'),
            method('first-free'),
          ),
        ],
      },
      {
        key: 'care-by-night',
        name: 'Care plans by night',
        on: true,
        entering: ['care-fits'],
        when: all(),
        schedule: { kind: 'daily', at: '02:00' },
        onlyOnSchedule: true,
        accept: true,
        routes: [
          route(
            'care-plans',
            'Care plans in turn',
            all(),
            { kind: 'reps', reps: ['rhona', 'jost', 'tess'] },
            { respects: { hours: false, limit: true } },
          ),
        ],
      },
    ],
    lastResort: { lead: 'operations' },
  };
}

/** The draft: breweries count more, clicks fade, silence costs, the upper cut is lower, one route is drawn for breweries. */
export function draft() {
  const charter = charterInForce();
  const silence = {
    kind: 'silence',
    key: 'silence',
    name: 'Silence',
    axis: 'engagement',
    on: true,
    points: -4,
    every: 30,
    most: 3,
  };
  const scoreSets = charter.scoreSets.map((set) =>
    set.key === 'sensing'
      ? {
          ...set,
          signals: [
            ...set.signals.map((signal): object => {
              if (signal.key === 'large-brewery') return { ...signal, points: 20 };
              return signal.key === 'clicked' ? { ...signal, fade: { kind: 'half-life', days: 45 } } : signal;
            }),
            silence,
          ],
          grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [16, 34, 52, 66] } },
        }
      : set,
  );
  const stream = charter.streams[0] as (typeof charter.streams)[number];
  const breweries = route(
    'breweries',
    'Breweries on the continent',
    all(inside('dach'), is('industry', 'Brewery'), not(any(below('volume', 60_000), blank('volume')))),
    person('wiebke'),
  );
  const routes = stream.routes.flatMap((one) => (one.key === 'dach' ? [breweries, one] : [one]));
  return {
    ...charter,
    name: 'Brewery push',
    scoreSets,
    streams: [{ ...stream, routes }, ...charter.streams.slice(1)],
  };
}
