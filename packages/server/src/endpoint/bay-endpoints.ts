import { type Bay, bayAlarmSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { bayOf } from '../reasoning/bay';
import { sightOf } from '../session/sight';
import { BayAlarmEntity } from '../store/entity/bay.entity';

/** The bay: what waits, for what, and after how long operations is told. */
export function bayEndpoints({ manager }: DataSource): Endpoint[] {
  return [
    endpoint({
      method: 'get',
      path: '/api/bay',
      who: ['admin', 'manager'],
      answer: json<Bay>(),
      call: async ({ caller, now }) => bayOf(manager, await sightOf(manager, caller), now),
    }),
    endpoint({
      method: 'put',
      path: '/api/bay/alarm',
      who: ADMIN,
      body: bayAlarmSchema,
      answer: json<Bay>(),
      async call({ caller, body: { hours }, now }) {
        await manager.save(BayAlarmEntity, { id: 1, hours });
        return bayOf(manager, await sightOf(manager, caller), now);
      },
    }),
  ];
}
