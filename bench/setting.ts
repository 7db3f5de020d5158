import {
  COMPANY_OWNER,
  companyOwnerValue,
  bindCharter,
  type Charter,
  CodeBuilder,
  type Condition,
  encodePopulation,
  NAMED_SUBJECTS,
  type Field,
  type FieldType,
  JUST_IN,
  type MovingRecord,
  type Population,
  type PopulationRecord,
  Rates,
  readCharter,
  type ReadyCharter,
  readyConditionOfRoute,
  type ReadyRoute,
  type RouteKey,
  readValue,
  readWorld,
  type Subject,
  TAGS,
  TAGS_FIELDS,
  type Value,
  WAYS,
  type World,
  type Method,
  METHODS,
} from '@relvik/core';
import { Dice } from './dice';

/** The data of all benchmarks: 15 fields, choices and tags, 40 signals, 25 routes, about 150 distinct tests, five of them on a contact or company, and about 8 activities a record. */

export const AS_OF = Date.parse('2026-11-01T12:00:00Z');
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

const INDUSTRIES = ['Fish farm', 'Brewery', 'Waterworks', 'Vineyard', 'Golf course', 'Pulp mill', 'Dairy', 'Other'];
const SOURCES = [
  'Website form',
  'Trade show',
  'Referral',
  'Webinar',
  'Partner',
  'Outbound call',
  'Paid advert',
  'Import',
];
const PRODUCTS = ['Buoy', 'Inline probe', 'Mast station', 'Data service', 'Service', 'Spare parts'];
const COUNTRIES = 'NO SE DK FI IS DE AT CH GB IE ES PT US CA AU NZ FR IT NL BE PL CZ JP BR CL ZA IN KR MT LU'.split(
  ' ',
);
const RANKS = ['Head of', 'Director of', 'Manager', 'Assistant', 'Intern', 'Chief', 'Lead', 'Student of'];
const TRADES = ['operations', 'quality', 'plant', 'purchasing', 'marketing', 'environment', 'finance', 'brewing'];
const MEASURES = ['Flow', 'Nitrate', 'Oxygen', 'Salinity', 'Temperature', 'Turbidity'];
const WORDS = Array.from({ length: 40 }, (_, i) => `tag ${i}`);
const CURRENCIES = ['EUR', 'NOK', 'SEK', 'USD', 'GBP', 'CHF'];
const KINDS = [
  'mail_opened',
  'mail_clicked',
  'page_visited',
  'form_filled',
  'call_taken',
  'event_attended',
  'mail_bounced',
  'mail_sent',
];

function field(key: string, type: FieldType, options: readonly string[] = []): Field {
  return { key, name: key, type, options, retired: false };
}

/** Fields of contacts and companies, which conditions read across a tie. */
const TIED_FIELDS = [
  field('company.industry', 'choice', INDUSTRIES),
  field('company.key_account', 'yes-no'),
  field('company.size', 'number'),
  field('contact.position', 'text'),
];

export const FIELDS: ReadonlyMap<string, Field> = new Map(
  [
    field('industry', 'choice', INDUSTRIES),
    field('country', 'country'),
    field('source', 'choice', SOURCES),
    field('product', 'choice', PRODUCTS),
    field('title', 'text'),
    field('region', 'text'),
    field('email', 'email'),
    field('employees', 'number'),
    field('points', 'number'),
    field('volume', 'number'),
    field('deal_value', 'money'),
    field('budget', 'money'),
    field('by_hand', 'yes-no'),
    field('wanted', 'date'),
    field('founded', 'date'),
    field('measures', 'choices', MEASURES),
    ...TIED_FIELDS,
    ...TAGS_FIELDS.filter(({ key }) => key === TAGS).map((one) => ({ ...one, options: WORDS })),
  ].map((one) => [one.key, one]),
);

export const RATES = new Rates(
  ['11.7', '11.2', '0.92', '1.17', '1.05'].map((rate, i) => ({
    currency: CURRENCIES[i + 1] as string,
    from: '2025-01-01',
    micro: Math.round(1e6 / Number(rate)),
  })),
  'EUR',
);

/** A field, or something computed, by its key. */
const about = (key: string): Subject => NAMED_SUBJECTS.get(key) ?? { kind: 'field', field: key };
const is = (name: string, value: string): Condition => ({ test: 'one-of', subject: about(name), values: [value] });
const oneOf = (name: string, values: readonly string[]): Condition => ({
  test: 'one-of',
  subject: about(name),
  values,
});
const from = (name: string, at: number): Condition => ({
  test: 'range',
  subject: about(name),
  from: { at: String(at), included: true },
  to: null,
});
const within = (name: string, low: number, high: number): Condition => ({
  test: 'range',
  subject: about(name),
  from: { at: String(low), included: true },
  to: { at: String(high), included: false },
});
const contains = (name: string, ...values: string[]): Condition => ({ test: 'contains', subject: about(name), values });
const all = (...of: Condition[]): Condition => ({ test: 'all', of });
const any = (...of: Condition[]): Condition => ({ test: 'any', of });
const not = (of: Condition): Condition => ({ test: 'not', of });

/** 30 attribute signals of two to five tests each. */
export const ATTRIBUTES: readonly { readonly points: number; readonly when: Condition }[] = [
  ...INDUSTRIES.slice(0, 6).map((industry, i) => ({
    points: [20, 15, 15, 5, -5, 10][i] as number,
    when: all(is('industry', industry), from('employees', 10 + 5 * i), not(is('source', SOURCES[i] as string))),
  })),
  ...[
    [10, 50],
    [50, 250],
    [250, 1000],
    [1000, 100_000],
  ].map(([low, high], i) => ({
    points: [2, 6, 9, 12][i] as number,
    when: all(
      within('employees', low as number, high as number),
      any(from('points', 3 + i), from('budget', 1000 * (i + 1)), ...(i === 0 ? [from('company.size', 500)] : [])),
    ),
  })),
  ...[5000, 20_000, 60_000, 150_000].map((at, i) => ({
    points: [3, 6, 6, 9][i] as number,
    when: all(
      from('deal_value', at),
      not({
        test: 'one-of',
        subject: { kind: 'currency', field: 'deal_value' },
        values: [CURRENCIES[i + 1] as string],
      }),
    ),
  })),
  ...TRADES.slice(0, 5).map((trade, i) => ({
    points: [8, 7, 8, 4, -4][i] as number,
    when: any(
      contains('title', trade),
      all(contains('region', `r${i}`), is('by_hand', 'yes')),
      ...(i === 1 ? [contains('contact.position', 'chief')] : []),
    ),
  })),
  ...[0, 1, 2, 3].map((i) => ({
    points: [4, 3, -6, 5][i] as number,
    when: all(
      oneOf('country', COUNTRIES.slice(i * 5, i * 5 + 7)),
      oneOf('product', PRODUCTS.slice(i, i + 2)),
      not({ test: 'blank', subject: { kind: 'field', field: 'volume' } }),
      ...(i === 2 ? [not(is('company.industry', 'Other'))] : []),
    ),
  })),
  ...[0, 1, 2, 3].map((i) => ({
    points: [-8, -5, 4, 3][i] as number,
    when: any(
      { test: 'ends-with', subject: { kind: 'field', field: 'email' }, values: [`@mail${i}.example`] },
      all(from('volume', 20_000 * (i + 1)), within('points', 2 * i, 2 * i + 5)),
    ),
  })),
  {
    points: 5,
    when: {
      test: 'range',
      subject: { kind: 'field', field: 'wanted' },
      from: { at: '2026-11-01', included: true },
      to: { at: '2027-02-01', included: false },
    },
  },
  {
    points: -3,
    when: {
      test: 'range',
      subject: { kind: 'field', field: 'founded' },
      from: { at: '2024-01-01', included: true },
      to: null,
    },
  },
  {
    points: -4,
    when: all(
      { test: 'blank', subject: { kind: 'field', field: 'product' } },
      { test: 'blank', subject: { kind: 'field', field: 'title' } },
    ),
  },
];

/** 10 signals for activities and silence. */
export const BEHAVIOUR: readonly object[] = [
  { kind: 'activity', activity: 'mail_opened', points: 3, most: 5, fade: { kind: 'half-life', days: 30 } },
  { kind: 'activity', activity: 'mail_clicked', points: 8, most: 3, fade: { kind: 'half-life', days: 30 } },
  { kind: 'activity', activity: 'page_visited', points: 2, most: 6, fade: { kind: 'half-life', days: 14 } },
  { kind: 'activity', activity: 'form_filled', points: 20, most: 2, fade: { kind: 'half-life', days: 60 } },
  { kind: 'activity', activity: 'call_taken', points: 15, most: 2, fade: { kind: 'half-life', days: 45 } },
  { kind: 'activity', activity: 'event_attended', points: 12, most: 2, window: 180 },
  { kind: 'activity', activity: 'mail_bounced', points: -8, most: 3 },
  { kind: 'activity', activity: 'page_visited', points: 4, most: 1, window: 7 },
  { kind: 'activity', activity: 'mail_clicked', points: 5, most: 1, window: 3 },
  { kind: 'silence', every: 30, points: -5, most: 3 },
];

const HANDED_OVER = oneOf('verdict', ['hand-over-now', 'hand-over']);
const RIPE = all(HANDED_OVER, any(from('rank', 50), from('company.size', 2000)));
const TEAMS = ['north', 'centre', 'isles', 'south', 'overseas'];

const ROUTES: readonly { readonly when: Condition; readonly to: object }[] = [
  {
    when: any(from('deal_value', 300_000), is('company.key_account', 'yes')),
    to: { kind: 'queue', queue: 'projects' },
  },
  { when: from('deal_value', 150_000), to: { kind: 'queue', queue: 'projects' } },
  { when: is('source', 'Partner'), to: { kind: 'queue', queue: 'partners' } },
  ...[0, 1, 2, 3, 4].flatMap((i) => [
    {
      when: all(
        is('territory', `t${i}`),
        is('industry', INDUSTRIES[i] as string),
        from('deal_value', 20_000 + 1000 * i),
      ),
      to: { kind: 'rep', rep: `rep${i * 8}` },
    },
    {
      when: all(
        is('territory', `t${i}`),
        within('employees', 200 + i, 2000 + i),
        not(is('product', PRODUCTS[i] as string)),
      ),
      to: { kind: 'rep', rep: `rep${i * 8 + 1}` },
    },
    {
      when: all(is('territory', `t${i}`), any(contains('title', RANKS[i] as string), from('points', 12 + i))),
      to: { kind: 'team', team: TEAMS[i] as string },
    },
    { when: is('territory', `t${i}`), to: { kind: 'team', team: TEAMS[i] as string } },
  ]),
  { when: from('rank', 120), to: { kind: 'team', team: 'north' } },
  { when: oneOf('country', ['MT', 'LU', 'NL', 'BE']), to: { kind: 'team', team: 'south' } },
];

/** The one score set of the bench, which admits all. */
export const SCORE_SET = {
  key: 'bench',
  name: 'Bench',
  fit: { least: 0, most: 100, decimals: 0 },
  engagement: { least: 0, most: 100, decimals: 0 },
  signals: [
    ...ATTRIBUTES.map((one, i) => ({ kind: 'attribute', key: `a${i}`, name: `a${i}`, axis: 'fit', ...one })),
    ...BEHAVIOUR.map((one, i) => ({ key: `b${i}`, name: `b${i}`, axis: 'engagement', ...one })),
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
      cuts: [8, 18, 28, 40],
    },
    engagement: {
      bands: [
        { key: 'quiet', name: 'quiet' },
        { key: 'stirring', name: 'stirring' },
        { key: 'active', name: 'active' },
        { key: 'eager', name: 'eager' },
      ],
      cuts: [5, 15, 30],
    },
    cells: [
      ['decline', 'no-action', 'no-action', 'nurture'],
      ['no-action', 'nurture', 'nurture', 'hand-over'],
      ['nurture', 'nurture', 'hand-over', 'hand-over'],
      ['nurture', 'hand-over', 'hand-over', 'hand-over-now'],
      ['nurture', 'hand-over', 'hand-over-now', 'hand-over-now'],
    ],
  },
};

export const CHARTER_JSON = {
  format: 'relvik-charter',
  version: 4,
  name: 'Bench',
  timeZone: 'Europe/Oslo',
  baseCurrency: 'EUR',
  pipelines: [
    {
      key: 'leads',
      name: 'Leads',
      of: 'lead',
      stages: ['new', 'nurture', 'qualified', 'out'].map((key) => ({
        key,
        name: key,
        kind: key === 'out' ? 'out' : 'open',
      })),
      entry: 'new',
    },
    {
      key: 'deals',
      name: 'Deals',
      of: 'deal',
      stages: ['open', 'won', 'lost'].map((kind) => ({ key: `deal-${kind}`, name: kind, kind })),
      entry: 'deal-open',
    },
  ],
  verdicts: ['hand-over-now', 'hand-over', 'nurture', 'no-action', 'decline'].map((key) => ({ key, name: key })),
  scoreSets: [SCORE_SET],
  gates: [
    { key: 'declined', name: 'declined', from: 'new', to: 'out', when: is('verdict', 'decline') },
    { key: 'at-once', name: 'at once', from: 'new', to: 'qualified', when: HANDED_OVER },
    { key: 'kept', name: 'kept', from: 'new', to: 'nurture', when: oneOf('verdict', ['nurture', 'no-action']) },
    { key: 'ripe', name: 'ripe', from: 'nurture', to: 'qualified', when: RIPE },
  ],
  territories: {
    field: 'country',
    list: [0, 1, 2, 3, 4].map((t) => ({
      key: `t${t}`,
      name: `t${t}`,
      parent: null,
      countries: COUNTRIES.slice(t * 5, t * 5 + 5),
    })),
  },
  streams: [
    {
      key: 's',
      name: 's',
      entering: ['qualified'],
      routes: ROUTES.map((route, i) => ({ key: `r${i}`, name: `r${i}`, ...route })),
    },
  ],
  lastResort: { lead: 'operations' },
};

const ZONES = ['Europe/Oslo', 'America/New_York', 'Asia/Kathmandu', 'Australia/Sydney', 'America/Sao_Paulo'];
const KNOWN_TRADES = ['Brewery', 'Fish farm', 'Waterworks', 'Vineyard'];

/** People with hours in five zones, holidays, days off and skills. */
export function workingWorld(): World {
  const { reps, ...rest } = world();
  const weekly = [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' }));
  const working = [...reps].map(([key, rep], i) => {
    const daysOff = [{ from: '2026-07-01', to: '2026-07-14', hours: null }];
    const skills = [{ skill: 'trades', has: KNOWN_TRADES.filter((_, t) => (i + t) % 3 !== 0) }];
    const hours = { timeZone: ZONES[i % ZONES.length] as string, weekly };
    return [key, { ...rep, hours, daysOff, skills, holidaysOf: 'NO', weight: 1 + (i % 3) }] as const;
  });
  const holidays = new Map([['NO', ['2026-01-01', '2026-05-01', '2026-05-17', '2026-12-25']]]);
  return { ...rest, reps: new Map(working), holidays };
}

/** The same charter with every method, skills, the next route where nobody is free, and first of all the owner of the company. */
export function methodical(charter: ReadyCharter): ReadyCharter {
  const to = { kind: 'company-owner' } as const;
  const always = { test: 'all', of: [] } as const;
  const kept = (stream: string): ReadyRoute => ({
    ...{ key: `kept-${stream}` as RouteKey, name: 'Kept', on: true, to, when: always },
    nobodyFree: { kind: 'next-route' },
    ready: readyConditionOfRoute(to, { kind: 'all', of: [] }),
  });
  const streams = charter.rules.lead.streams.map((stream) => ({
    ...stream,
    routes: [
      kept(stream.key),
      ...stream.routes.map((route, i) => ({
        ...{ ...route, method: METHODS[i % METHODS.length] as Method },
        ...(i % 4 === 0 ? { skills: [{ skill: 'trades', field: 'industry' }] } : {}),
        ...(i % 3 === 0 ? { nobodyFree: { kind: 'next-route' } as const } : {}),
      })),
    ],
  }));
  return { ...charter, rules: { ...charter.rules, lead: { ...charter.rules.lead, streams } } };
}

export function world(): World {
  const reps = Array.from({ length: 40 }, (_, i) => ({
    key: `rep${i}`,
    name: `Rep ${i}`,
    mayTakeLeads: i % 13 !== 7,
    limit: 60 + i,
  }));
  const reading = readWorld({
    format: 'relvik-world',
    version: 1,
    fields: [],
    reps,
    teams: TEAMS.map((key, t) => ({ key, name: key, members: reps.slice(t * 8, t * 8 + 8).map((rep) => rep.key) })),
    queues: ['projects', 'partners', 'operations'].map((key) => ({ key, name: key })),
  });
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return { ...reading.world, fields: FIELDS, rates: RATES };
}

export function ready(change: (json: typeof CHARTER_JSON) => void = () => undefined): ReadyCharter {
  const json = structuredClone(CHARTER_JSON);
  change(json);
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return readyFrom(reading.charter);
}

export function readyFrom(charter: Charter): ReadyCharter {
  const binding = bindCharter(charter, world());
  if (!binding.ok) throw new Error(JSON.stringify(binding.problems));
  return binding.ready;
}

/** Values that few records differ in are made once. */
const made = new Map<string, Value>();
function value(key: string, raw: string): Value {
  const name = `${key} ${raw}`;
  let known = made.get(name);
  if (known === undefined) {
    known = readValue(FIELDS.get(key) as Field, raw, '2026-06-01');
    made.set(name, known);
  }
  return known;
}

function day(dice: Dice, fromYear: number, years: number): string {
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${fromYear + dice.whole(years)}-${two(1 + dice.whole(12))}-${two(1 + dice.whole(28))}`;
}

/** About four leads come under a company, two under a contact. */
const LEADS_EACH = { contact: 2, company: 4 } as const;

/** The contact and company of a record: ids behind those of all leads. */
export function tiesAt(i: number, count: number): { readonly contact: number; readonly company: number } {
  const contacts = Math.ceil(count / LEADS_EACH.contact);
  return {
    contact: count + 1 + ((i * 7919) % contacts),
    company: count + contacts + 1 + ((i * 7919) % Math.ceil(count / LEADS_EACH.company)),
  };
}

/** The values of a contact or company, by its id alone. */
export function tiedValuesOf(kind: 'contact' | 'company', id: number): ReadonlyMap<string, Value> {
  const dice = new Dice(id);
  const raw: Readonly<Record<string, string>> =
    kind === 'contact'
      ? { 'contact.position': `${dice.pick(RANKS)} ${dice.pick(TRADES)}` }
      : {
          'company.industry': dice.pick(INDUSTRIES),
          'company.key_account': dice.chance(0.05) ? 'yes' : 'no',
          'company.size': String(1 + dice.whole(60) * dice.whole(60)),
        };
  return new Map(Object.entries(raw).map(([key, one]) => [key, value(key, one)]));
}

function recordAt(i: number, count: number, dice: Dice, several: Dice): PopulationRecord<MovingRecord> {
  const arrived = AS_OF - Math.floor(((count - i) / count) * 300 * DAY) - dice.whole(HOUR);
  const values = new Map<string, Value>();
  const put = (key: string, share: number, raw: () => string): void => {
    if (dice.chance(share)) values.set(key, value(key, raw()));
  };
  put('industry', 0.95, () => dice.pick(INDUSTRIES));
  put('country', 0.97, () => dice.pick(COUNTRIES));
  put('source', 1, () => dice.pick(SOURCES));
  put('product', 0.8, () => dice.pick(PRODUCTS));
  put('title', 0.85, () => `${dice.pick(RANKS)} ${dice.pick(TRADES)}`);
  put('region', 0.6, () => `r${dice.whole(80)}`);
  put(
    'email',
    0.98,
    () => `p${dice.whole(400)}@${dice.chance(0.3) ? `mail${dice.whole(4)}` : `firm${dice.whole(60)}`}.example`,
  );
  put('employees', 0.8, () => (dice.chance(0.003) ? 'about sixty' : String(1 + dice.whole(40) * dice.whole(60))));
  put('points', 0.7, () => String(dice.whole(20)));
  put('volume', 0.4, () => String(dice.whole(120) * 1000));
  put('deal_value', 0.75, () => `${dice.whole(400) * 500} ${dice.pick(CURRENCIES)}`);
  put('budget', 0.5, () => `${dice.whole(300) * 100} ${dice.pick(CURRENCIES)}`);
  put('by_hand', 0.5, () => dice.pick(['yes', 'no']));
  put('wanted', 0.5, () => day(dice, 2026, 2));
  put('founded', 0.6, () => day(dice, 1950, 76));
  const some = (from: readonly string[]): string =>
    Array.from({ length: several.whole(4) }, () => several.pick(from)).join(';');
  values.set('measures', value('measures', some(MEASURES)));
  values.set(TAGS, value(TAGS, some(WORDS)));
  const activities = Array.from({ length: dice.whole(17) }, () => ({
    kind: dice.pick(KINDS),
    at: arrived + Math.floor(((AS_OF - arrived) * dice.whole(10_000)) / 10_000),
  }));
  const closes = dice.chance(0.4);
  const ties = tiesAt(i, count);
  const record: MovingRecord = {
    id: String(i + 1),
    kind: 'lead',
    arrived,
    way: dice.pick(WAYS),
    values,
    tied: new Map([
      ...tiedValuesOf('contact', ties.contact),
      ...tiedValuesOf('company', ties.company),
      // Every tenth company has an owner.
      ...(ties.company % 10 === 0 ? [[COMPANY_OWNER, companyOwnerValue(`rep${ties.company % 40}`)] as const] : []),
    ]),
    activities,
    standing: JUST_IN,
  };
  return { record, closed: closes ? arrived + dice.whole(40) * DAY : null, touched: arrived };
}

/** Records from a seed, oldest first. */
export function recordsOf(count: number): PopulationRecord<MovingRecord>[] {
  const dice = new Dice(20_261_101);
  const several = new Dice(7);
  return Array.from({ length: count }, (_, i) => recordAt(i, count, dice, several));
}

/** The population of records as the server sends it: of an address only the domain is a column. */
export function populationOf(records: readonly PopulationRecord[]): Population {
  const whole = encodePopulation(records, FIELDS);
  const mail = whole.columns.get('email');
  if (mail?.kind !== 'codes') throw new Error('The e-mail is a text');
  const domains = mail.dictionary.map((address) => address.slice(address.lastIndexOf('@')));
  const builder = new CodeBuilder(records.length);
  mail.codes.forEach((code, at) => {
    if (code > 0) builder.add(at, domains[code - 1] as string);
  });
  return { ...whole, columns: new Map([...whole.columns, ['email', builder.build()]]) };
}
