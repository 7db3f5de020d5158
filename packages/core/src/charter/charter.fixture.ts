import { readWorld, type WorldDocument } from '../people/read-world';
import { kindsFrom, STANDARD_KINDS } from '../activity/activity-kind';
import type { RepKey, RouteKey, StageKey } from '../record/keys';
import { JUST_IN, type Look, type MovingRecord, type RecordFacts, type Standing } from '../record/record';
import type { Place } from '../record/place';
import { BLANK, type Raw, readValue } from '../record/value';
import type { World } from '../people/world';
import { readCharter } from './read-charter';
import { bindCharter, type ReadyCharter } from './ready-charter';

/** A small charter as JSON: two fit signals, one for activities, two gates, two territories, three routes. */
export const SMALL_CHARTER = {
  format: 'relvik-charter',
  version: 4,
  name: 'Small',
  timeZone: 'Europe/Oslo',
  baseCurrency: 'EUR',
  pipelines: [
    {
      key: 'leads',
      name: 'Leads',
      of: 'lead',
      stages: [
        { key: 'new', name: 'New', kind: 'open' },
        { key: 'qualified', name: 'Qualified', kind: 'open' },
        { key: 'out', name: 'Disqualified', kind: 'out' },
      ],
      entry: 'new',
    },
    {
      key: 'deals',
      name: 'Deals',
      of: 'deal',
      stages: [
        { key: 'deal-open', name: 'Open', kind: 'open' },
        { key: 'deal-offer', name: 'Offer made', kind: 'open' },
        { key: 'deal-won', name: 'Won', kind: 'won' },
        { key: 'deal-lost', name: 'Lost', kind: 'lost' },
      ],
      entry: 'deal-open',
    },
  ],
  verdicts: [
    { key: 'hand-over-now', name: 'Hand over now' },
    { key: 'hand-over', name: 'Hand over' },
    { key: 'nurture', name: 'Nurture' },
    { key: 'no-action', name: 'No action' },
    { key: 'decline', name: 'Decline' },
  ],
  scoreSets: [
    {
      key: 'leads',
      name: 'Leads',
      fit: { least: 0, most: 100, decimals: 0 },
      engagement: { least: 0, most: 100, decimals: 0 },
      signals: [
        {
          kind: 'attribute',
          key: 'trade',
          name: 'A trade we serve',
          axis: 'fit',
          on: true,
          points: 60,
          when: { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery', 'Fish farm'] },
        },
        {
          kind: 'attribute',
          key: 'size',
          name: 'Large',
          axis: 'fit',
          on: true,
          points: 74,
          when: {
            test: 'range',
            subject: { kind: 'field', field: 'employees' },
            from: { at: '50', included: true },
            to: null,
          },
        },
        {
          kind: 'attribute',
          key: 'free',
          name: 'Free mailbox',
          axis: 'fit',
          on: true,
          points: -10,
          when: { test: 'ends-with', subject: { kind: 'field', field: 'email' }, values: ['@mail.example'] },
        },
        {
          kind: 'activity',
          key: 'clicks',
          name: 'Mail clicked',
          axis: 'engagement',
          on: true,
          points: 20,
          activity: 'mail_clicked',
          most: 3,
        },
      ],
      grid: {
        fit: {
          bands: [
            { key: 'c', name: 'C' },
            { key: 'b', name: 'B' },
            { key: 'a', name: 'A' },
          ],
          cuts: [40, 70],
        },
        engagement: {
          bands: [
            { key: 'quiet', name: 'quiet' },
            { key: 'active', name: 'active' },
          ],
          cuts: [40],
        },
        cells: [
          ['decline', 'no-action'],
          ['nurture', 'hand-over'],
          ['nurture', 'hand-over-now'],
        ],
      },
    },
  ],
  gates: [
    {
      key: 'qualify',
      name: 'Qualify',
      from: 'new',
      to: 'qualified',
      on: true,
      when: { test: 'one-of', subject: { kind: 'verdict' }, values: ['hand-over-now', 'hand-over'] },
    },
    {
      key: 'decline',
      name: 'Decline',
      from: 'new',
      to: 'out',
      on: true,
      when: { test: 'one-of', subject: { kind: 'verdict' }, values: ['decline'] },
    },
  ],
  territories: {
    field: 'country',
    list: [
      { key: 'nordics', name: 'Nordics', parent: null, countries: ['NO', 'Sweden'] },
      { key: 'dach', name: 'D-A-CH', parent: null, countries: ['DEU', 'AT', 'CH'] },
    ],
  },
  streams: [
    {
      key: 'main',
      name: 'Qualified leads',
      on: true,
      entering: ['qualified'],
      when: { test: 'all', of: [] },
      routes: [
        {
          key: 'large',
          name: 'Large deals',
          on: true,
          when: {
            test: 'range',
            subject: { kind: 'field', field: 'deal_value' },
            from: { at: '20000', included: true },
            to: null,
          },
          to: { kind: 'rep', rep: 'ada' },
        },
        {
          key: 'north',
          name: 'Nordics',
          on: true,
          when: { test: 'one-of', subject: { kind: 'territory' }, values: ['nordics'] },
          to: { kind: 'team', team: 'north' },
        },
        {
          key: 'centre',
          name: 'D-A-CH',
          on: true,
          when: { test: 'one-of', subject: { kind: 'territory' }, values: ['dach'] },
          to: { kind: 'queue', queue: 'projects' },
        },
      ],
    },
  ],
  lastResort: { lead: 'operations' },
};

/** The people and fields around it. */
export const SMALL_WORLD = {
  format: 'relvik-world',
  version: 1,
  fields: [
    { key: 'industry', name: 'Industry', type: 'choice', options: ['Brewery', 'Fish farm', 'Golf course'] },
    { key: 'employees', name: 'Employees', type: 'number' },
    { key: 'email', name: 'E-mail', type: 'email' },
    { key: 'country', name: 'Country', type: 'country' },
    { key: 'deal_value', name: 'Deal value', type: 'money' },
    { key: 'note', name: 'Note', type: 'number' },
    { key: 'contact.title', name: 'Title', type: 'text' },
    { key: 'company.industry', name: 'Industry', type: 'choice', options: ['Brewery', 'Fish farm', 'Golf course'] },
    { key: 'company.employees', name: 'Employees', type: 'number' },
    { key: 'company.email', name: 'E-mail', type: 'email' },
    { key: 'company.deal_value', name: 'Largest deal', type: 'money' },
    { key: 'company.key_account', name: 'Key account', type: 'yes-no' },
  ],
  reps: [
    { key: 'ada', name: 'Ada Lindqvist', mayTakeLeads: true, limit: 2 },
    { key: 'bo', name: 'Bo Rask', mayTakeLeads: true, limit: null },
    { key: 'cai', name: 'Cai Morgan', mayTakeLeads: false, limit: null },
  ],
  teams: [{ key: 'north', name: 'Team north', members: ['ada', 'cai', 'bo'] }],
  queues: [
    { key: 'projects', name: 'Projects', members: ['bo'] },
    { key: 'operations', name: 'Operations', members: [] },
  ],
  rates: [{ currency: 'NOK', from: '2026-01-01', rate: '0.085' }],
};

/** The standard kinds of activities. */
export const KINDS = kindsFrom(STANDARD_KINDS);

export function smallWorld(change: (document: WorldDocument) => unknown = () => undefined): World {
  const document = structuredClone(SMALL_WORLD) as unknown as WorldDocument;
  change(document);
  const reading = readWorld(document);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.world;
}

export function readyCharter(json: unknown, world: World): ReadyCharter {
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  const binding = bindCharter(reading.charter, world);
  if (!binding.ok) throw new Error(JSON.stringify(binding.problems));
  return binding.ready;
}

/** The small charter after a change to its JSON. */
export function smallCharter(
  world: World,
  change: (charter: typeof SMALL_CHARTER) => unknown = () => undefined,
): ReadyCharter {
  const json = structuredClone(SMALL_CHARTER);
  change(json);
  return readyCharter(json, world);
}

export const NOW = Date.parse('2026-03-02T09:00:00Z');

/** A new lead with these values. */
export function lead(world: World, raw: Record<string, Raw>, rest: Partial<RecordFacts & Standing> = {}): MovingRecord {
  const values = new Map(
    Object.entries(raw).map(([key, value]) => {
      const field = world.fields.get(key);
      return [key, field ? readValue(field, value, '2026-03-02') : BLANK];
    }),
  );
  const { status, cameInto, stage, stageSince, place, pin, looks } = { ...JUST_IN, ...rest };
  const { id = '1', arrived = NOW, way = null, activities = [] } = rest;
  const standing = { status, cameInto, stage, stageSince, place, pin, looks };
  return { id, kind: 'lead', arrived, way, values, activities, standing };
}

export const clicks = (n: number) =>
  Array.from({ length: n }, (_, i) => ({ kind: 'mail_clicked', at: NOW - i * 1000 }));
export const rep = (key: string) => key as RepKey;
export const route = (key: string) => key as RouteKey;
export const stage = (key: string) => key as StageKey;
export const owned = (key: string): Place => ({ kind: 'owner', rep: rep(key) });

/** The same record, standing otherwise. */
export function standing(record: MovingRecord, otherwise: Partial<Standing>): MovingRecord {
  return { ...record, standing: { ...record.standing, ...otherwise } };
}

/** The record as a decision leaves it, for the next occasion. */
export function after(
  record: MovingRecord,
  decision: {
    stage: StageKey;
    status: Standing['status'];
    place: Place;
    asOf: number;
    gates: { moves: readonly unknown[]; looks: readonly (readonly [string, Look])[] };
  },
): MovingRecord {
  const { stage, status, place, gates } = decision;
  const stageSince = gates.moves.length > 0 ? decision.asOf : record.standing.stageSince;
  return standing(record, { stage, stageSince, status, place, looks: new Map(gates.looks) });
}
