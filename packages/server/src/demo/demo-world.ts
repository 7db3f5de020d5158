import type { DemoSignIn } from '@relvik/contracts';
import { bareKey, kindOfField, readCharter, roleOf, spellingKey } from '@relvik/core';
import { DAYS, FREE_DOMAINS, OWN_REGIONS, ostervane, type Ostervane, SPELLINGS } from '@relvik/demo';
import { type DataSource, type EntityManager, IsNull } from 'typeorm';
import { CharterEntity, OpenDraftEntity } from '../store/entity/charter.entity';
import { insertRows } from '../store/rows';
import { FormEntity } from '../store/entity/intake.entity';
import {
  PersonEntity,
  QueueEntity,
  QueueMemberEntity,
  RepLoadEntity,
  SkillListEntity,
  TeamEntity,
  TeamMemberEntity,
} from '../store/entity/people.entity';
import { FieldEntity, OwnRegionEntity, RateEntity, SpellingEntity } from '../store/entity/catalogue.entity';
import { liveThrough } from './demo-life';
import { keepRecords } from './demo-records';
import { planTasks } from './demo-tasks';
import { SavedViewEntity } from '../store/entity/saved-view.entity';
import { hashPassword } from '../session/password';
import { PUBLISHED_PASSWORD } from '../session/published-password';

const DAY = 86_400_000;
const SEED = 'ostervane';

/** The sign-ins of the demo; they exist on loopback only. */
export const DEMO_SIGN_INS: readonly DemoSignIn[] = [
  { email: 'admin@ostervane.example', password: PUBLISHED_PASSWORD, who: 'Admin' },
  { email: 'manager@ostervane.example', password: PUBLISHED_PASSWORD, who: 'Manager' },
  { email: 'rep@ostervane.example', password: PUBLISHED_PASSWORD, who: 'Rep' },
];

/**
 * Loads the demo world into an empty database, living its 120 days through the same decisions as any lead.
 *
 * @returns whether the database holds the demo world
 */
export async function loadDemoWorld(source: DataSource, now: Date, progress: (text: string) => void): Promise<boolean> {
  const { manager } = source;
  if ((await manager.count(CharterEntity)) > 0)
    return manager.existsBy(PersonEntity, { email: DEMO_SIGN_INS[0]?.email ?? '' });
  progress('Loading the demo world of Ostervane');
  const world = ostervane(SEED, now.getTime());
  await storeWorld(source, world, now);
  await liveThrough(source, world, now, progress);
  await keepRecords(source, now);
  await planTasks(source, now, new Map(world.people.map(({ key, name }) => [key, name])));
  return true;
}

function charterOf(json: object) {
  const reading = readCharter(JSON.parse(JSON.stringify(json)));
  if (!reading.ok) throw new Error(`The demo's charter is not valid: ${JSON.stringify(reading.problems)}`);
  return reading.charter;
}

/** Personal fields. */
const PERSONAL: readonly string[] = ['email', 'name', 'phone'];

function dayAfter(now: Date, days: number): string {
  return new Date(now.getTime() + days * DAY).toISOString().slice(0, 10);
}

/** Stores people, fields, rates, charters, views and the form of a demo world, without its leads. */
export async function storeWorld(source: DataSource, world: Ostervane, now: Date): Promise<void> {
  const password = await hashPassword(PUBLISHED_PASSWORD);
  const before = new Date(now.getTime() - (DAYS + 1) * DAY);
  await source.transaction(async (manager) => {
    await insertRows(
      manager,
      FieldEntity,
      world.fields.map((field, position) => ({
        ...field,
        role: roleOf(field),
        feeds: field.feeds ?? null,
        optionList: null,
        options: [...field.options],
        retiredOptions: [],
        personal: PERSONAL.includes(bareKey(field.key)) && ['lead', 'contact'].includes(kindOfField(field.key)),
        position,
      })),
    );
    await manager.query('INSERT INTO no_company (kind, folded, word) VALUES ?', [
      FREE_DOMAINS.map((domain) => ['domain', domain, domain]),
    ]);
    await insertRows(
      manager,
      RateEntity,
      world.rates.map(({ currency, from, rate }) => ({
        currency,
        fromDay: from,
        micro: String(Math.round(Number(rate) * 1e6)),
      })),
    );
    await insertRows(
      manager,
      PersonEntity,
      world.people.map(({ key, name, role, mayTakeLeads, whyNot, limit, weight, leave, ...own }) => ({
        key,
        name,
        role,
        mayTakeLeads,
        whyNot,
        takes: limit,
        email: `${key}@ostervane.example`,
        password,
        retired: false,
        ...{
          weight: weight * 100,
          hours: own.hours,
          holidaysOf: own.holidaysOf,
          away: false,
          deputy: own.deputy,
          skills: own.skills,
        },
        daysOff: leave === null ? [] : [{ from: dayAfter(now, leave.from), to: dayAfter(now, leave.to), hours: null }],
      })),
    );
    await insertRows(manager, SkillListEntity, [...world.skills]);
    await insertRows(
      manager,
      RepLoadEntity,
      world.people.map(({ key }) => ({ rep: key, open: 0, lastGiven: null })),
    );
    await insertRows(
      manager,
      TeamEntity,
      world.teams.map(({ key, name }) => ({ key, name, parent: null, paused: false, hours: null })),
    );
    await insertRows(
      manager,
      TeamMemberEntity,
      world.teams.flatMap(({ key, leader, members }) =>
        [leader, ...members].map((person, joined) => ({ team: key, person, joined, leads: person === leader })),
      ),
    );
    await insertRows(
      manager,
      QueueEntity,
      world.queues.map(({ key, name, order, mostHeld }) => ({ key, name, order, mostHeld })),
    );
    await insertRows(
      manager,
      QueueMemberEntity,
      world.queues.flatMap(({ key, members }) => members.map((person) => ({ queue: key, person }))),
    );
    await insertRows(manager, OwnRegionEntity, [...OWN_REGIONS]);
    await insertRows(
      manager,
      SpellingEntity,
      SPELLINGS.map((one) => ({ ...one, folded: spellingKey(one.written) })),
    );
    const author = world.people[0]?.name ?? '';
    const kept = { version: 1, author, reason: null, note: null };
    const charter = charterOf(world.charter);
    const draft = charterOf(world.draft);
    await insertRows(manager, CharterEntity, [
      {
        ...kept,
        inForce: true,
        number: 1,
        base: 0,
        name: charter.name,
        body: charter,
        changedAt: before,
        enactedAt: before,
      },
      {
        ...kept,
        inForce: null,
        number: null,
        base: 1,
        name: draft.name,
        body: draft,
        changedAt: new Date(now.getTime() - 2 * DAY),
        enactedAt: null,
        note: 'Breweries bought well in summer: give them more, and a person of their own',
      },
    ]);
    await insertRows(manager, SavedViewEntity, VIEWS);
    await openForAdmin(manager);
    await insertRows(manager, FormEntity, [
      {
        trusted: false,
        slug: 'sensing',
        title: 'Ask Ostervane about your water',
        intro: 'Tell us what you measure and where. Someone who knows your region answers.',
        thanks: 'Thank you. Someone who knows your region will answer.',
        fields: [
          'name',
          'company',
          'email',
          'title',
          'country',
          'region',
          'postal_code',
          'industry',
          'employees',
          'product',
          'deal_value',
          'by_hand',
          'note',
        ].map((key) => ({ key, required: ['name', 'email', 'country'].includes(key) })),
        sets: { source: 'Website form' },
        received: world.leads.filter((lead) => lead.way === 'form').length,
      },
    ]);
  });
}

const VIEWS: readonly Pick<SavedViewEntity, 'person' | 'name' | 'shared' | 'kind' | 'query'>[] = [
  {
    person: 'admin',
    name: 'Eager breweries from 18,000',
    shared: true,
    kind: 'lead',
    query: {
      order: 'engagement',
      when: JSON.stringify({
        test: 'all',
        of: [
          { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] },
          {
            test: 'range',
            subject: { kind: 'field', field: 'deal_value' },
            from: { at: '18000', included: true },
            to: null,
          },
          { test: 'one-of', subject: { kind: 'band', axis: 'engagement' }, values: ['active', 'eager'] },
        ],
      }),
      columns: 'company,grade,rank,engagement,field:deal_value,field:volume,territory,place',
    },
  },
  {
    person: 'admin',
    name: 'Nobody’s yet, best first',
    shared: true,
    kind: 'lead',
    query: { place: 'queue', least: '70' },
  },
];

/** The draft that is being drawn is open when the admin signs in. */
async function openForAdmin(manager: EntityManager): Promise<void> {
  const draft = await manager.findOneByOrFail(CharterEntity, { number: IsNull() });
  await manager.insert(OpenDraftEntity, { person: 'admin', charter: draft.id });
}
