import {
  ACTIVITIES_AT_ONCE,
  activitiesSchema,
  type ActivityOutcome,
  type ChangeKind,
  changeKindSchema,
  type Curve,
  type KindRow,
  type NewKind,
  newKindSchema,
  type NoteActivity,
  noteActivitySchema,
  type SentActivities,
} from '@relvik/contracts';
import { scoreCurve, STANDARD_KINDS } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { type Asked, type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { Refused } from '../api/refused';
import { readGoverning, readKinds } from '../charter/charter-store';
import { sightOf } from '../people/sight';
import { ActivityKindEntity } from '../record/catalogue.entity';
import { ActivityEntity } from '../record/history.entity';
import { mayOn } from '../record/lead-detail';
import { leadInSight } from '../record/lead-list';
import { loadLeads } from '../record/lead-store';
import { acceptActivities } from './accept-activities';
import { readCsvActivities } from './read-csv-activities';

const EVERYONE: readonly Who[] = ['admin', 'manager', 'rep'];
const STANDARD = new Set(STANDARD_KINDS.map(({ key }) => key));

/** What people do: activities of every way in, their kinds, and how they let a score go up and down. */
export function activityEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;

  async function kinds(): Promise<KindRow[]> {
    const counts = await manager
      .createQueryBuilder(ActivityEntity, 'activity')
      .select('activity.kind', 'kind')
      .addSelect('COUNT(*)', 'count')
      .groupBy('activity.kind')
      .getRawMany<{ kind: string; count: string }>();
    const countOf = new Map(counts.map(({ kind, count }) => [kind, Number(count)]));
    return (await readKinds(manager)).map((kind) => ({
      ...kind,
      standard: STANDARD.has(kind.key),
      count: countOf.get(kind.key) ?? 0,
    }));
  }

  async function takeFile({ body, now }: Asked): Promise<ActivityOutcome> {
    const activities = readCsvActivities(String(body));
    const outcome = { accepted: 0, repeated: 0, refused: [] as ActivityOutcome['refused'][number][] };
    for (let i = 0; i < activities.length; i += ACTIVITIES_AT_ONCE) {
      const some = activities.slice(i, i + ACTIVITIES_AT_ONCE);
      const { accepted, repeated, refused } = await acceptActivities(source, {
        sender: 'csv',
        activities: some,
        at: now,
      });
      outcome.accepted += accepted;
      outcome.repeated += repeated;
      outcome.refused.push(...refused.map((one) => ({ ...one, row: one.row + i })));
    }
    return outcome;
  }

  async function noteByHand(asked: Asked): Promise<void> {
    const user = userOf(asked);
    const sight = await sightOf(manager, user);
    const lead = await leadInSight(manager, sight, idOf(asked));
    if (!mayOn(lead, sight, user).edit) throw Refused.forbidden();
    const activity = await read<NoteActivity>(noteActivitySchema, asked.body);
    const { refused } = await acceptActivities(source, {
      sender: user.name,
      activities: [{ ...activity, lead: lead.id }],
      at: asked.now,
    });
    if (refused.length > 0)
      throw Refused.invalid(refused.map(({ field, message }) => ({ path: `/${field}`, message })));
  }

  return [
    {
      method: 'post',
      path: '/api/intake/activities',
      who: ['key'],
      async handle({ key, body, now }) {
        if (key === null) throw Refused.of(401, 'An intake key is needed', 'Send it as Authorization: Bearer KEY.');
        const { activities } = await read<SentActivities>(activitiesSchema, body);
        return { body: await acceptActivities(source, { sender: `key ${key.id}`, activities, at: now }) };
      },
    },
    {
      method: 'post',
      path: '/api/intake/activities/csv',
      who: ['admin'],
      text: { type: 'text/csv', most: '8mb' },
      handle: async (asked) => ({ body: await takeFile(asked) }),
    },
    {
      method: 'post',
      path: '/api/leads/:id/activities',
      who: EVERYONE,
      async handle(asked) {
        await noteByHand(asked);
        return { status: 201, body: {} };
      },
    },
    {
      method: 'get',
      path: '/api/leads/:id/curve',
      who: EVERYONE,
      async handle(asked) {
        const lead = await leadInSight(manager, await sightOf(manager, userOf(asked)), idOf(asked));
        const [{ ready, world }, [stored]] = await Promise.all([
          readGoverning(manager, 'none'),
          loadLeads(manager, [lead.id], 'none'),
        ]);
        if (stored === undefined) throw Refused.notFound();
        const now = asked.now.getTime();
        const curve: Curve = { now, points: scoreCurve(ready, stored.record, world.rates, now) };
        return { body: curve };
      },
    },
    { method: 'get', path: '/api/activity-kinds', who: ['admin'], handle: async () => ({ body: await kinds() }) },
    {
      method: 'post',
      path: '/api/activity-kinds',
      who: ['admin'],
      async handle({ body }) {
        const { key, name, by } = await read<NewKind>(newKindSchema, body);
        const known = await readKinds(manager);
        if (known.some((kind) => kind.key === key))
          throw Refused.invalid([{ path: '/key', message: 'stands already' }]);
        await manager.insert(ActivityKindEntity, { key, name, by, retired: false, position: known.length });
        return { status: 201, body: await kinds() };
      },
    },
    {
      method: 'patch',
      path: '/api/activity-kinds/:key',
      who: ['admin'],
      async handle({ body, params }) {
        const { name, retired } = await read<ChangeKind>(changeKindSchema, body);
        const known = await readKinds(manager);
        const position = known.findIndex(({ key }) => key === params['key']);
        const kind = known[position];
        if (kind === undefined) throw Refused.notFound();
        await manager.save(ActivityKindEntity, { key: kind.key, by: kind.by, name, retired, position });
        return { body: await kinds() };
      },
    },
  ];
}
