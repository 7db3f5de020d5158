import {
  ACTIVITIES_AT_ONCE,
  activitiesSchema,
  type ActivityOutcome,
  changeKindSchema,
  type Curve,
  type KindRow,
  newKindSchema,
  noteActivitySchema,
} from '@relvik/contracts';
import { scoreCurve, STANDARD_KINDS } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json, textBody } from '../http/endpoint';
import { byId, byKey } from '../http/read';
import { Refused } from '../problem/refused';
import { readGoverning, readKinds } from '../store/governing';
import { sightOf } from '../session/sight';
import { ActivityKindEntity } from '../store/entity/catalogue.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import type { User } from '../session/session-store';
import { leadInSight } from '../list/lead-list';
import { loadLeads } from '../store/load-leads';
import { acceptActivities } from '../act/accept-activities';
import { handOf } from '../act/cause';
import { readCsvActivities } from '../intake/read-csv-activities';
import { markOf } from './intake-endpoints';

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

  async function takeFile(user: User, file: string, now: Date): Promise<ActivityOutcome> {
    const activities = readCsvActivities(file);
    const outcome = { accepted: 0, repeated: 0, refused: [] as ActivityOutcome['refused'][number][] };
    for (let i = 0; i < activities.length; i += ACTIVITIES_AT_ONCE) {
      const some = activities.slice(i, i + ACTIVITIES_AT_ONCE);
      const { accepted, repeated, refused } = await acceptActivities(source, {
        sender: 'csv',
        cause: { kind: 'csv', name: user.name },
        activities: some,
        at: now,
      });
      outcome.accepted += accepted;
      outcome.repeated += repeated;
      outcome.refused.push(...refused.map((one) => ({ ...one, row: one.row + i })));
    }
    return outcome;
  }

  return [
    endpoint({
      method: 'post',
      path: '/api/intake/activities',
      who: 'key',
      body: activitiesSchema,
      answer: json<ActivityOutcome>(),
      call: ({ caller, body, header, now }) =>
        acceptActivities(source, {
          mark: markOf(`key ${caller.id} acts`, header('idempotency-key'), body),
          sender: `key ${caller.id}`,
          key: caller.id,
          cause: { kind: 'api', name: caller.name },
          activities: body.activities,
          at: now,
        }),
    }),
    endpoint({
      method: 'post',
      path: '/api/intake/activities/csv',
      who: ADMIN,
      patience: 900_000,
      body: textBody('text/csv', '8mb'),
      answer: json<ActivityOutcome>(),
      call: ({ caller, body, now }) => takeFile(caller, body, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/activities',
      who: EVERYONE,
      params: byId,
      body: noteActivitySchema,
      answer: json<object>(201),
      async call({ caller, params, body, now }) {
        const { refused } = await acceptActivities(source, {
          sender: `hand ${caller.key}`,
          cause: handOf(caller),
          activities: [{ ...body, lead: params.id }],
          hand: { user: caller, at: now },
          at: now,
        });
        if (refused.length > 0)
          throw Refused.invalid(refused.map(({ field, message }) => ({ path: `/${field}`, message })));
        return {};
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/curve',
      who: EVERYONE,
      params: byId,
      answer: json<Curve>(),
      async call({ caller, params, now: at }) {
        const lead = await leadInSight(manager, await sightOf(manager, caller), params.id);
        const [{ ready, world }, [stored]] = await Promise.all([
          readGoverning(manager, 'none'),
          loadLeads(manager, [lead.id], 'none'),
        ]);
        if (stored === undefined) throw Refused.notFound();
        const now = at.getTime();
        return { now, points: scoreCurve(ready, stored.record, world, now) };
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/activity-kinds',
      who: ADMIN,
      answer: json<KindRow[]>(),
      call: () => kinds(),
    }),
    endpoint({
      method: 'post',
      path: '/api/activity-kinds',
      who: ADMIN,
      body: newKindSchema,
      answer: json<KindRow[]>(201),
      async call({ body: { key, name, by } }) {
        const known = await readKinds(manager);
        if (known.some((kind) => kind.key === key))
          throw Refused.invalid([{ path: '/key', message: 'stands already' }]);
        await manager.insert(ActivityKindEntity, { key, name, by, retired: false, position: known.length });
        return kinds();
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/activity-kinds/:key',
      who: ADMIN,
      params: byKey,
      body: changeKindSchema,
      answer: json<KindRow[]>(),
      async call({ body: { name, retired }, params }) {
        const known = await readKinds(manager);
        const position = known.findIndex(({ key }) => key === params.key);
        const kind = known[position];
        if (kind === undefined) throw Refused.notFound();
        await manager.save(ActivityKindEntity, { key: kind.key, by: kind.by, name, retired, position });
        return kinds();
      },
    }),
  ];
}
