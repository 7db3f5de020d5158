import type { Role } from '@relvik/contracts';
import type { Field, RepSkill, SkillList, WorkHours } from '@relvik/core';

export interface DemoPerson {
  readonly key: string;
  readonly name: string;
  readonly role: Role;
  readonly mayTakeLeads: boolean;
  readonly whyNot: string | null;
  readonly limit: number | null;
  readonly weight: number;
  readonly hours: WorkHours | null;
  readonly holidaysOf: string | null;
  /** Days off, counted from today; null: none. */
  readonly leave: { readonly from: number; readonly to: number } | null;
  /** Takes over their open leads meanwhile; null: nobody. */
  readonly deputy: string | null;
  readonly skills: readonly RepSkill[];
}

/** Monday to Friday; `friday` is when the week ends there. */
const week = (timeZone: string, from: string, to: string, friday = to): WorkHours => ({
  timeZone,
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, from, to: day === 5 ? friday : to })),
});
const OSLO = { hours: week('Europe/Oslo', '08:00', '16:00', '15:00'), holidaysOf: 'NO' };
const BERLIN = { hours: week('Europe/Berlin', '08:30', '17:00', '16:00'), holidaysOf: 'DE-BY' };
const BRITAIN = { hours: week('Europe/London', '09:00', '17:30'), holidaysOf: 'GB-SCT' };
const LISBON = { hours: week('Europe/Lisbon', '09:00', '18:00'), holidaysOf: 'PT' };
const MADRID = { hours: week('Europe/Madrid', '09:00', '18:30', '15:00'), holidaysOf: 'ES' };
const NEW_YORK = { hours: week('America/New_York', '08:30', '17:00'), holidaysOf: 'US' };
const TORONTO = { hours: week('America/Toronto', '09:00', '17:00'), holidaysOf: 'CA' };
const SYDNEY = { hours: week('Australia/Sydney', '08:30', '16:30'), holidaysOf: 'AU-NSW' };

const knows = (...has: string[]): Partial<DemoPerson> => ({ skills: [{ skill: 'industries', has }] });

const REP: Omit<DemoPerson, 'key' | 'name' | 'limit'> = {
  ...{
    mayTakeLeads: true,
    whyNot: null,
    weight: 1,
    hours: null,
    holidaysOf: null,
    leave: null,
    deputy: null,
    skills: [],
  },
  role: 'rep',
};
const rep = (key: string, name: string, limit: number | null, ...more: Partial<DemoPerson>[]): DemoPerson =>
  more.reduce<DemoPerson>((one, part) => ({ ...one, ...part }), { ...REP, key, name, limit });
const admin = (key: string, name: string, role: Role, whyNot: string): DemoPerson => ({
  ...REP,
  ...{ key, name, role, mayTakeLeads: false, whyNot, limit: null },
});

/** One admin, two managers, fourteen reps. Each signs in as KEY@ostervane.example. */
export const PEOPLE: readonly DemoPerson[] = [
  admin('admin', 'Runa Vestmar', 'admin', 'runs sales operations'),
  admin('manager', 'Hedda Storlien', 'manager', 'leads teams'),
  { ...admin('manager-south', 'Bruno Calheta', 'manager', 'leads teams'), ...LISBON },
  rep('rep', 'Aksel Dahlstrøm', 30, OSLO, knows('Fish farm', 'Waterworks')),
  rep('maren', 'Maren Ytterbø', 30, OSLO, knows('Fish farm', 'Brewery')),
  // New since this autumn: half as many as the others.
  rep('jorun', 'Jorun Haldorsen', 24, OSLO, { weight: 0.5 }),
  rep('sindre', 'Sindre Ekmark', 24, OSLO, { mayTakeLeads: false, whyNot: 'on leave until January' }),
  rep('lorenz', 'Lorenz Achterberg', 32, BERLIN, knows('Pulp mill', 'Waterworks')),
  rep('wiebke', 'Wiebke Tannhof', 32, BERLIN, knows('Brewery', 'Pulp mill', 'Vineyard')),
  rep('jost', 'Jost Uhlhorn', 24, BERLIN),
  rep('rhona', 'Rhona Ardmore', 30, BRITAIN),
  rep('owen', 'Owen Penhallow', 30, BRITAIN, { leave: { from: -2, to: 5 } }),
  rep('ines', 'Inês Ribamar', 8, LISBON),
  rep('alvaro', 'Álvaro Montalbo', 8, MADRID),
  rep('delia', 'Delia Winslade', 34, NEW_YORK),
  rep('harlan', 'Harlan Ferncastle', 34, TORONTO, { leave: { from: -1, to: 2 }, deputy: 'delia' }),
  rep('tess', 'Tess Wattlebrook', 20, SYDNEY),
];

export const TEAMS = [
  { key: 'north', name: 'Team north', leader: 'manager', members: ['rep', 'maren', 'jorun', 'sindre'] },
  { key: 'centre', name: 'Team centre', leader: 'manager', members: ['lorenz', 'wiebke', 'jost'] },
  { key: 'isles', name: 'Team isles', leader: 'manager', members: ['rhona', 'owen'] },
  { key: 'south', name: 'Team south', leader: 'manager-south', members: ['ines', 'alvaro'] },
  { key: 'overseas', name: 'Team overseas', leader: 'manager-south', members: ['delia', 'harlan', 'tess'] },
] as const;

export const QUEUES = [
  { key: 'projects', name: 'Projects', order: 'rank', mostHeld: 8, members: ['rep', 'lorenz', 'delia'] },
  { key: 'partner-desk', name: 'Partner desk', order: 'oldest', mostHeld: null, members: ['maren', 'wiebke', 'owen'] },
  { key: 'desk-south', name: 'Bruno’s desk', order: 'oldest', mostHeld: null, members: ['manager-south'] },
  { key: 'operations', name: 'Operations', order: 'oldest', mostHeld: null, members: ['manager', 'manager-south'] },
] as const;

const field = (
  key: string,
  name: string,
  type: Field['type'],
  options: readonly string[] = [],
  rest: Partial<Field> = {},
): Field => ({ key, name, type, options, retired: false, ...rest });
const feeds = (to: string): Partial<Field> => ({ feeds: to });

export const INDUSTRIES = [
  'Fish farm',
  'Brewery',
  'Waterworks',
  'Vineyard',
  'Golf course',
  'Pulp mill',
  'Other',
] as const;
/** Lists of skills. */
export const SKILLS: readonly SkillList[] = [{ key: 'industries', name: 'Industries', words: INDUSTRIES }];

export const PRODUCTS = ['Buoy', 'Inline probe', 'Mast station', 'Data service'] as const;
export const MEASURES = ['Flow', 'Nitrate', 'Oxygen', 'Salinity', 'Temperature', 'Turbidity'] as const;
/** Words that people in the demo have tagged leads with. */
export const TAG_WORDS = ['Pilot wanted', 'Old system runs out', 'Speaks for others', 'Call in spring'] as const;
export const SOURCES = [
  'Website form',
  'Trade show',
  'Referral',
  'Webinar',
  'Partner',
  'Outbound call',
  'Paid advert',
  'Import',
] as const;

export const FIELDS: readonly Field[] = [
  field('name', 'Name', 'text', [], feeds('contact.name')),
  field('company', 'Company', 'text', [], feeds('company.name')),
  field('email', 'E-mail', 'email', [], feeds('contact.email')),
  field('title', 'Title', 'text', [], feeds('contact.title')),
  field('phone', 'Telephone', 'text', [], feeds('contact.phone')),
  field('country', 'Country', 'country', [], feeds('company.country')),
  field('region', 'State or region', 'region'),
  field('postal_code', 'Postal code', 'postal-code'),
  field('industry', 'Industry', 'choice', INDUSTRIES, feeds('company.industry')),
  field('employees', 'Employees', 'number', [], feeds('company.employees')),
  field('points', 'Measuring points', 'number', [], feeds('company.points')),
  field('product', 'Product interest', 'choice', PRODUCTS),
  field('measures', 'Wants to measure', 'choices', MEASURES),
  field('deal_value', 'Deal value', 'money', [], { ...feeds('company.deal_value'), role: 'amount' }),
  field('volume', 'Yearly volume, hl', 'number'),
  field('by_hand', 'Measures by hand today', 'yes-no'),
  field('wanted_by', 'Wanted by', 'date'),
  field('source', 'Source', 'choice', SOURCES),
  field('note', 'Note', 'text'),
  field('contact.name', 'Name', 'text'),
  field('contact.email', 'E-mail', 'email'),
  field('contact.title', 'Title', 'text'),
  field('contact.phone', 'Telephone', 'text'),
  field('contact.language', 'Language', 'choice', ['English', 'German', 'Norwegian', 'Spanish', 'Swedish']),
  field('company.name', 'Name', 'text'),
  field('company.domain', 'Mail domain', 'text'),
  field('company.country', 'Country', 'country'),
  field('company.industry', 'Industry', 'choice', INDUSTRIES),
  field('company.employees', 'Employees', 'number'),
  field('company.points', 'Measuring points', 'number'),
  field('company.deal_value', 'Deal value asked for last', 'money'),
  field('company.key_account', 'Key account', 'yes-no'),
  field('company.renewal', 'Contract renewed on', 'date'),
  field('deal.name', 'Name', 'text'),
  field('deal.amount', 'Amount', 'money'),
  field('deal.close', 'Expected close', 'date'),
  field('deal.product', 'Product', 'choice', PRODUCTS),
];

/** Domains that give mailboxes to anyone in the demo's world. */
export const FREE_DOMAINS = ['postbox.example', 'mailinn.example', 'freepost.example'] as const;

/** Euros for one unit, roughly, with a step in the middle of the demo's time. */
export const RATES: readonly (readonly [currency: string, before: string, after: string])[] = [
  ['NOK', '0.0852', '0.0861'],
  ['SEK', '0.0892', '0.0905'],
  ['DKK', '0.1341', '0.1341'],
  ['CHF', '1.0640', '1.0710'],
  ['GBP', '1.1480', '1.1530'],
  ['USD', '0.8620', '0.8580'],
  ['CAD', '0.6190', '0.6150'],
  ['AUD', '0.5610', '0.5640'],
];
