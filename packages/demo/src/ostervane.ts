import { REGIONS, unknownRegions } from './regions';
import { charterInForce, draft } from './charters';
import { Dice } from './dice';
import { FIELDS, type INDUSTRIES, MEASURES, PEOPLE, PRODUCTS, QUEUES, RATES, SKILLS, TAG_WORDS, TEAMS } from './people';
import { COUNTRIES, type Country, UNKNOWN_SPELLINGS } from './places';

export const DAYS = 120;
const LEADS = 2000;
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

export type Way = 'form' | 'api' | 'hand' | 'csv';

/** A lead as it comes in, what its people do later, and what becomes of it once someone works on it. */
export interface DemoLead {
  readonly at: number;
  readonly way: Way;
  readonly values: Readonly<Record<string, string>>;
  readonly activities: readonly {
    readonly kind: string;
    readonly at: number;
    readonly properties?: Readonly<Record<string, string>>;
  }[];
  /** A value that came in wrong, put right by someone. */
  readonly correction: { readonly at: number; readonly values: Readonly<Record<string, string>> } | null;
  readonly outcome: 'won' | 'lost' | 'disqualified';
  readonly reason: string;
  /** From the owner's first day with it to the end. */
  readonly workDays: number;
}

/** Ostervane, made up: what it is, whom it employs, and the leads of its last 120 days. */
export interface Ostervane {
  readonly charter: object;
  readonly draft: object;
  readonly fields: typeof FIELDS;
  readonly people: typeof PEOPLE;
  readonly teams: typeof TEAMS;
  readonly skills: typeof SKILLS;
  readonly queues: typeof QUEUES;
  readonly rates: readonly { readonly currency: string; readonly from: string; readonly rate: string }[];
  /** In order of arrival. */
  readonly leads: readonly DemoLead[];
}

const TITLES = [
  'Plant manager',
  'Head of operations',
  'Quality manager',
  'Driftsleder',
  'Betriebsleiter',
  'Managing director',
  'Purchasing',
  'Environmental officer',
  'Head brewer',
  'Site manager',
  'Laboratory lead',
  'Student',
  'Marketing assistant',
  'Owner',
];
const SUFFIX: Readonly<Record<(typeof INDUSTRIES)[number], readonly string[]>> = {
  'Fish farm': ['Fish Farm', 'Havbruk', 'Aquaculture', 'Salmon'],
  Brewery: ['Brygg', 'Brauhaus', 'Ales', 'Brewery'],
  Waterworks: ['Waterworks', 'Stadtwerk', 'Vannverk', 'Water'],
  Vineyard: ['Vineyards', 'Weingut', 'Quinta', 'Estate'],
  'Golf course': ['Golf Club', 'Links', 'Golf'],
  'Pulp mill': ['Pulp', 'Papier', 'Cellulose', 'Mill'],
  Other: ['Trading', 'Holding', 'Services', 'Consult'],
};
const REASONS = {
  won: ['Signed for the season', 'Pilot ordered', 'Frame agreement signed'],
  lost: ['Chose to wait a year', 'Budget was cut', 'Bought elsewhere', 'No answer after five tries'],
  disqualified: ['No measuring need', 'Wrong contact', 'Only collecting prices'],
} as const;

/** How good a lead really is: hidden from the rules, which see only traces of it. */
function worthOf(industry: string, employees: number, title: string, source: string, dice: Dice): number {
  const byIndustry: Record<string, number> = {
    'Fish farm': 1.1,
    Brewery: 0.9,
    Waterworks: 0.7,
    'Pulp mill': 0.5,
    Vineyard: -0.3,
    'Golf course': -0.6,
    Other: -1.2,
  };
  const bySource: Record<string, number> = {
    Referral: 0.8,
    'Trade show': 0.3,
    Webinar: 0.2,
    Partner: 0.3,
    'Paid advert': -0.4,
    Import: -0.6,
  };
  const byTitle = /plant|operations|quality|drift|betrieb|brewer|site/i.test(title)
    ? 0.5
    : /student|assistant/i.test(title)
      ? -1.5
      : 0;
  return (
    (byIndustry[industry] ?? 0) +
    (bySource[source] ?? 0) +
    byTitle +
    Math.min(1, Math.log10(Math.max(1, employees)) / 2 - 0.6) +
    dice.normal() * 0.8
  );
}

function plain(text: string): string {
  return text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/ø/gi, 'o')
    .replace(/æ/gi, 'ae')
    .toLowerCase()
    .replace(/[^a-z]+/g, '-')
    .replace(/^-|-$/g, '');
}

function mailOf(first: string, last: string, company: string, dice: Dice): string {
  const own = `${plain(first)}.${plain(last)}@${plain(company)}.example`;
  if (dice.chance(0.06))
    return `${plain(first)}.${plain(last)}${dice.whole(1, 99)}@${dice.pick(['postbox', 'mailinn', 'freepost'])}.example`;
  return dice.chance(0.01) ? `${plain(first)}.${plain(last)}@${dice.pick(['sensorika', 'probeworks'])}.example` : own;
}

function activitiesOf(at: number, worth: number, end: number, dice: Dice): DemoLead['activities'] {
  const interest = Math.max(0, 1 + worth + dice.normal() * 0.9);
  const count = Math.min(24, Math.round(interest * interest * dice.share() * 2.2));
  const kinds: readonly (readonly [string, number])[] = [
    ['mail_opened', 34],
    ['page_visited', 29 + 2 * interest],
    ['mail_clicked', 12 + 4 * interest],
    ['call_taken', 2 + interest],
    ['event_attended', 3],
    ['form_filled', 1.5],
    ['mail_bounced', 4 / (1 + interest)],
    ['mail_unsubscribed', 2 / (1 + interest)],
  ];
  const pages: readonly (readonly [string, number])[] = [
    ['/products/buoys', 8],
    ['/products/inline-probes', 8],
    ['/stories', 6],
    ['/about', 4],
    ['/pricing', 3 + 2 * interest],
  ];
  const done: DemoLead['activities'][number][] = [];
  let last = at;
  for (let i = 0; i < count; i += 1) {
    last += Math.round(HOUR * (2 + dice.share() * dice.share() * 260));
    if (last >= end) break;
    const kind = dice.weighted(kinds);
    done.push({ kind, at: last, ...(kind === 'page_visited' ? { properties: { page: dice.weighted(pages) } } : {}) });
  }
  return done;
}

function moneyOf(country: Country, euros: number, dice: Dice): string {
  const rate = Number(
    RATES.find(([currency]) => currency === country.currency)?.[1] ?? (country.currency === 'ISK' ? '0.0068' : '1'),
  );
  const amount = Math.round(euros / rate / 500) * 500;
  if (dice.chance(0.008)) return `about ${Math.round(euros / 1000)}k`;
  return `${amount} ${country.currency}`;
}

function leadAt(at: number, end: number, dice: Dice): DemoLead {
  const country = dice.weighted(COUNTRIES.map((c) => [c, c.weight] as const));
  const industry = dice.weighted([
    ['Fish farm', 24],
    ['Brewery', 22],
    ['Waterworks', 18],
    ['Vineyard', 10],
    ['Golf course', 9],
    ['Pulp mill', 9],
    ['Other', 8],
  ] as const);
  const source = dice.weighted([
    ['Website form', 32],
    ['Trade show', 18],
    ['Referral', 9],
    ['Webinar', 13],
    ['Partner', 9],
    ['Outbound call', 8],
    ['Paid advert', 7],
    ['Import', 4],
  ] as const);
  const way: Way =
    source === 'Website form'
      ? 'form'
      : source === 'Import' || source === 'Trade show'
        ? 'csv'
        : source === 'Outbound call'
          ? 'hand'
          : 'api';
  const employees = Math.max(1, Math.round(Math.exp(3.6 + dice.normal() * 1.3)));
  const title = dice.pick(TITLES);
  const [first, last] = [dice.pick(country.first), dice.pick(country.last)];
  const company = `${dice.pick(country.towns)} ${dice.pick(SUFFIX[industry])}`;
  const worth = worthOf(industry, employees, title, source, dice);
  const euros = Math.exp(9.6 + 0.35 * Math.log(employees) * 0.6 + dice.normal() * 0.8);

  const values: Record<string, string> = {
    name: `${first} ${last}`,
    company,
    email: mailOf(first, last, company, dice),
    title,
    country: dice.pick(country.spellings),
    industry,
    source,
  };
  if (dice.chance(0.8)) values['employees'] = String(employees);
  if (dice.chance(0.7)) values['deal_value'] = moneyOf(country, euros, dice);
  if (dice.chance(0.85)) values['product'] = dice.pick(PRODUCTS);
  if (dice.chance(0.5)) values['points'] = String(Math.max(1, Math.round(Math.exp(1.4 + dice.normal()))));
  if (dice.chance(0.4)) values['by_hand'] = dice.chance(0.6) ? 'yes' : 'no';
  if (industry === 'Brewery' && dice.chance(0.75))
    values['volume'] = String(Math.round(Math.exp(10.6 + dice.normal())));
  if (dice.chance(0.3)) values['wanted_by'] = new Date(at + dice.whole(30, 300) * DAY).toISOString().slice(0, 10);
  if (country.name === 'United States' && dice.chance(0.6))
    values['phone'] = `+1 555 555-01${String(dice.whole(0, 99)).padStart(2, '0')}`;

  const right = { ...values };
  if (dice.chance(0.015)) values['country'] = dice.pick(UNKNOWN_SPELLINGS);
  if (dice.chance(0.012)) values['employees'] = dice.pick(['about 50', '100-200', 'ca. 30', 'many']);
  const wrong = Object.keys(right).filter((key) => right[key] !== values[key]);
  if (values['deal_value']?.startsWith('about')) {
    right['deal_value'] = `${Math.round(euros / 500) * 500} EUR`;
    wrong.push('deal_value');
  }
  const corrected = wrong.length > 0 && dice.chance(0.8);
  const correctionAt = at + Math.round((0.2 + dice.share() * 3) * DAY);

  const won = 1 / (1 + Math.exp(-(worth - 0.9) * 1.4));
  const outcome = dice.chance(won) ? 'won' : dice.chance(0.75) ? 'lost' : 'disqualified';
  return {
    at,
    way,
    values,
    activities: activitiesOf(at, worth, end, dice),
    correction:
      corrected && correctionAt < end
        ? { at: correctionAt, values: Object.fromEntries(wrong.map((key) => [key, right[key] ?? ''])) }
        : null,
    outcome,
    reason: dice.pick(REASONS[outcome]),
    workDays: Math.max(2, Math.round(outcome === 'won' ? 12 + dice.share() * 60 : 4 + dice.share() * 45)),
  };
}

/** What they want to measure, and tags: from dice of their own, so that the rest of the world stays as it is. */
function withChoices(lead: DemoLead, dice: Dice): DemoLead {
  const some = (from: readonly string[], most: number): string[] =>
    Array.from({ length: dice.whole(1, most) }, () => dice.pick(from));
  const tags = [
    ...(lead.values['source'] === 'Trade show' && dice.chance(0.6) ? ['Coast fair'] : []),
    ...(dice.chance(0.1) ? some(TAG_WORDS, 2) : []),
  ];
  const measures = dice.chance(0.45) ? some(MEASURES, 3) : [];
  return {
    ...lead,
    values: {
      ...lead.values,
      ...(measures.length > 0 ? { measures: measures.join('; ') } : {}),
      ...(tags.length > 0 ? { tags: tags.join('; ') } : {}),
    },
  };
}

/** Where it is within its country, as people write that. */
function withPlace(lead: DemoLead, dice: Dice): DemoLead {
  const country = COUNTRIES.find(({ spellings }) => spellings.includes(lead.values['country'] ?? ''));
  const regions = REGIONS[country?.name ?? ''];
  if (regions === undefined || dice.chance(0.2)) return lead;
  const { spellings, codes } = dice.pick(regions);
  const region = dice.chance(0.015) ? dice.pick(unknownRegions(country?.name ?? '')) : dice.pick(spellings);
  return {
    ...lead,
    values: { ...lead.values, region, ...(dice.chance(0.6) ? { postal_code: dice.pick(codes) } : {}) },
  };
}

/** The same seed and day give the same world. `today` is the instant at which it is loaded: all dates lie before it. */
export function ostervane(seed: string, today: number): Ostervane {
  const dice = new Dice(seed);
  const choiceDice = new Dice(`${seed}, choices`);
  const placeDice = new Dice(`${seed}, places`);
  const start = today - DAYS * DAY;
  const arrivals = Array.from({ length: LEADS }, () => {
    const day = Math.floor(dice.share() * DAYS);
    // Mostly in European working hours.
    const hour = 6 + (dice.share() + dice.share()) * 7;
    return Math.min(today - 10 * 60_000, Math.floor((start + day * DAY) / DAY) * DAY + Math.round(hour * HOUR));
  }).sort((a, b) => a - b);
  const middle = new Date(today - 45 * DAY).toISOString().slice(0, 10);
  const early = new Date(today - 400 * DAY).toISOString().slice(0, 10);
  return {
    charter: charterInForce(),
    draft: draft(),
    fields: FIELDS,
    people: PEOPLE,
    teams: TEAMS,
    skills: SKILLS,
    queues: QUEUES,
    rates: RATES.flatMap(([currency, before, after]) => [
      { currency, from: early, rate: before },
      { currency, from: middle, rate: after },
    ]),
    leads: arrivals
      .map((at) => leadAt(at, today, dice))
      .map((lead) => withPlace(withChoices(lead, choiceDice), placeDice)),
  };
}
