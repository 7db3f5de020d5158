/** The charter in force of the demo, and the draft that is being drawn, as JSON. */

const is = (field: string, value: string) => ({ test: 'is', field, value });
const oneOf = (field: string, ...values: string[]) => ({ test: 'one-of', field, values });
const contains = (field: string, ...values: string[]) => ({ test: 'contains', field, values });
const endsWith = (field: string, ...values: string[]) => ({ test: 'ends-with', field, values });
const blank = (field: string) => ({ test: 'blank', field });
const all = (...of: object[]) => ({ test: 'all', of });
const any = (...of: object[]) => ({ test: 'any', of });
const not = (of: object) => ({ test: 'not', of });
const from = (field: string, at: number) => ({
  test: 'range',
  field,
  from: { at: String(at), included: true },
  to: null,
});
const below = (field: string, at: number) => ({
  test: 'range',
  field,
  from: null,
  to: { at: String(at), included: false },
});
const within = (field: string, low: number, high: number) => ({
  test: 'range',
  field,
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
const halving = (days: number) => ({ fade: { kind: 'half-life', days } });
const gate = (key: string, name: string, source: string, target: string, when: object) => ({
  key,
  name,
  from: source,
  to: target,
  on: true,
  when,
});
const route = (key: string, name: string, when: object, to: object) => ({ key, name, on: true, when, to });
const territory = (key: string, name: string, parent: string | null, ...countries: string[]) => ({
  key,
  name,
  parent,
  countries,
});
const team = (key: string) => ({ kind: 'team', team: key });
const person = (key: string) => ({ kind: 'rep', rep: key });
const queue = (key: string) => ({ kind: 'queue', queue: key });

const HANDED_OVER = oneOf('verdict', 'hand-over-now', 'hand-over');

export function charterInForce() {
  return {
    format: 'relvik-charter',
    version: 2,
    name: 'Spring cut',
    timeZone: 'Europe/Oslo',
    baseCurrency: 'EUR',
    stages: [
      { key: 'new', name: 'New', kind: 'open' },
      { key: 'nurture', name: 'Nurture', kind: 'open' },
      { key: 'qualified', name: 'Qualified', kind: 'open' },
      { key: 'disqualified', name: 'Disqualified', kind: 'out' },
    ],
    entry: 'new',
    verdicts: [
      { key: 'hand-over-now', name: 'Hand over now' },
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
          fit('near-industry', 'Pulp mill', 15, is('industry', 'Pulp mill')),
          fit('small-industry', 'Vineyard or golf course', 5, oneOf('industry', 'Vineyard', 'Golf course')),
          fit(
            'large-brewery',
            'Brewery with yearly volume in [50,000, 2,000,000)',
            10,
            all(is('industry', 'Brewery'), within('volume', 50_000, 2_000_000)),
          ),
          fit('mid-size', 'Employees in [50, 500)', 15, within('employees', 50, 500)),
          fit('large', 'Employees from 500', 20, from('employees', 500)),
          fit('tiny', 'Employees below 10', -10, below('employees', 10)),
          fit('many-points', 'Ten measuring points or more', 15, from('points', 10)),
          fit('budget', 'Deal value from 20,000', 15, from('deal_value', 20_000)),
          fit('big-budget', 'Deal value from 100,000', 10, from('deal_value', 100_000)),
          fit(
            'title',
            'Title contains plant, operations or quality',
            15,
            contains('title', 'plant', 'operations', 'quality', 'drift', 'betrieb'),
          ),
          fit('student', 'Student or intern', -30, contains('title', 'student', 'intern')),
          fit(
            'free-mailbox',
            'Free mailbox',
            -10,
            endsWith('email', '@postbox.example', '@mailinn.example', '@freepost.example'),
          ),
          fit(
            'rival',
            'Works for a maker of sensors',
            -60,
            endsWith('email', '@sensorika.example', '@probeworks.example'),
          ),
          fit('referral', 'Came by referral', 10, is('source', 'Referral')),
          fit('by-hand', 'Measures by hand today', 10, is('by_hand', 'yes')),
          fit('no-product', 'No product interest named', -5, blank('product')),
          { ...did('opened', 'Mail opened', 3, 'mail_opened', 5), ...halving(60) },
          did('clicked', 'Mail clicked', 8, 'mail_clicked', 4),
          did('bounced', 'Mail bounced', -8, 'mail_bounced', 3),
          did('unsubscribed', 'Unsubscribed', -30, 'mail_unsubscribed', 1),
          { ...did('page', 'Page visited', 2, 'page_visited', 5), ...halving(60) },
          {
            ...did('pricing', 'Pricing page visited', 15, 'page_visited', 2),
            having: [{ property: 'page', test: 'is', values: ['/pricing'] }],
          },
          did('form', 'Form filled', 20, 'form_filled', 2),
          did('call', 'Call taken', 15, 'call_taken', 2),
          did('event', 'Webinar or event attended', 12, 'event_attended', 2),
        ],
        grid: {
          fit: { names: ['E', 'D', 'C', 'B', 'A'], cuts: [15, 35, 50, 70] },
          engagement: { names: ['quiet', 'stirring', 'active', 'eager'], cuts: [15, 35, 60] },
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
        when: any(from('points', 10), from('employees', 200)),
        fit: { least: 0, most: 60, decimals: 0 },
        engagement: { least: 0, most: 40, decimals: 0 },
        signals: [
          fit('care-points', 'Many measuring points to look after', 25, from('points', 25)),
          fit('care-staff', 'No hands to spare: employees below 100', 15, below('employees', 100)),
          fit('care-by-hand', 'Measures by hand today', 20, is('by_hand', 'yes')),
          did('care-call', 'Call taken', 15, 'call_taken', 2),
          { ...did('care-page', 'Pages visited', 4, 'page_visited', 5), ...halving(90) },
        ],
        grid: {
          fit: { names: ['weak', 'fair', 'strong'], cuts: [20, 40] },
          engagement: { names: ['cold', 'warm'], cuts: [15] },
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
        when: not(is('industry', 'Golf course')),
        fit: { least: 0, most: 80, decimals: 0 },
        engagement: { least: 0, most: 100, decimals: 0 },
        signals: [
          fit('fleet-industry', 'Water is its business', 25, oneOf('industry', 'Fish farm', 'Brewery', 'Waterworks')),
          fit('fleet-size', 'Employees from 100', 20, from('employees', 100)),
          fit('fleet-points', 'Twenty measuring points or more', 25, from('points', 20)),
          fit('fleet-value', 'Deal value from 50,000', 10, from('deal_value', 50_000)),
          { ...did('fleet-calls', 'Calls taken, by anyone there', 15, 'call_taken', 4), ...halving(90) },
          { ...did('fleet-forms', 'Forms filled, by anyone there', 20, 'form_filled', 3), ...halving(120) },
          did('fleet-events', 'Events attended', 10, 'event_attended', 3),
        ],
        grid: {
          fit: { names: ['small', 'middling', 'great'], cuts: [25, 50] },
          engagement: { names: ['distant', 'in talks', 'close'], cuts: [20, 50] },
          cells: [
            ['no-action', 'no-action', 'nurture'],
            ['no-action', 'nurture', 'hand-over'],
            ['nurture', 'hand-over', 'hand-over-now'],
          ],
        },
      },
    ],
    gates: [
      gate('declined', 'Declined by its grade', 'new', 'disqualified', is('verdict', 'decline')),
      gate('at-once', 'Qualified at once', 'new', 'qualified', HANDED_OVER),
      gate('to-nurture', 'Kept warm', 'new', 'nurture', oneOf('verdict', 'nurture', 'no-action')),
      gate('ripened', 'Ripened', 'nurture', 'qualified', HANDED_OVER),
    ],
    territories: {
      field: 'country',
      list: [
        territory('nordics', 'Nordics', null, 'Sweden', 'Denmark', 'Finland'),
        territory('nordics-west', 'Nordics west', 'nordics', 'Norway', 'Iceland', 'Faroe Islands'),
        territory('dach', 'D-A-CH', null, 'Germany', 'Austria', 'Switzerland'),
        territory('britain-ireland', 'Britain and Ireland', null, 'United Kingdom', 'Ireland'),
        territory('iberia', 'Iberia', null, 'Spain', 'Portugal'),
        territory('united-states', 'United States', null, 'United States'),
        territory('canada', 'Canada', null, 'Canada'),
        territory('australia', 'Australia', null, 'Australia', 'New Zealand'),
      ],
    },
    streams: [
      {
        key: 'qualified',
        name: 'Qualified leads',
        on: true,
        entering: ['qualified'],
        when: all(),
        routes: [
          route('large-projects', 'Projects from 150,000', from('deal_value', 150_000), queue('projects')),
          route('partner-leads', 'Brought by partners', is('source', 'Partner'), queue('partner-desk')),
          route(
            'north-west-fish',
            'Fish farms in the west',
            all(is('territory', 'nordics-west'), is('industry', 'Fish farm'), from('deal_value', 20_000)),
            person('rep'),
          ),
          route('nordics', 'Nordics', oneOf('territory', 'nordics', 'nordics-west'), team('north')),
          route(
            'dach-mills',
            'Mills and waterworks, D-A-CH',
            all(is('territory', 'dach'), oneOf('industry', 'Pulp mill', 'Waterworks')),
            person('lorenz'),
          ),
          route('dach', 'D-A-CH', is('territory', 'dach'), team('centre')),
          route('isles', 'Britain and Ireland', is('territory', 'britain-ireland'), team('isles')),
          route('iberia', 'Iberia', is('territory', 'iberia'), team('south')),
          route(
            'america-large',
            'North America from 50,000',
            all(oneOf('territory', 'united-states', 'canada'), from('deal_value', 50_000)),
            person('delia'),
          ),
          route('overseas', 'Overseas', oneOf('territory', 'united-states', 'canada', 'australia'), team('overseas')),
        ],
      },
    ],
    lastResort: 'operations',
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
    points: -5,
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
          grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [15, 35, 50, 65] } },
        }
      : set,
  );
  const stream = charter.streams[0] as (typeof charter.streams)[number];
  const breweries = route(
    'breweries',
    'Breweries on the continent',
    all(is('territory', 'dach'), is('industry', 'Brewery'), not(any(below('volume', 50_000), blank('volume')))),
    person('wiebke'),
  );
  const routes = stream.routes.flatMap((one) => (one.key === 'dach' ? [breweries, one] : [one]));
  return {
    ...charter,
    name: 'Brewery push',
    scoreSets,
    streams: [{ ...stream, routes }],
  };
}
