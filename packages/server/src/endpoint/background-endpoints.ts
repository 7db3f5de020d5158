import { type BackgroundState, tryAgainSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { backgroundState, tryAgain } from '../doctor/background-state';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { byId } from '../http/read';
import type { Background } from '../job/background-worker';
import { sendAgain } from '../outbox/deliver';
import { Refused } from '../problem/refused';

/** What goes on in the background: what waits to leave, what keeps failing, and what the doctor found. */
export function backgroundEndpoints(source: DataSource, background: Background): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/background',
      who: ADMIN,
      answer: json<BackgroundState>(),
      call: ({ now }) => backgroundState(manager, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/outbox/:id/again',
      who: ADMIN,
      params: byId,
      answer: json<BackgroundState>(),
      async call({ params, now }) {
        if (!(await sendAgain(source, params.id, now))) throw Refused.notFound();
        background.wake();
        return backgroundState(manager, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/failures/again',
      who: ADMIN,
      body: tryAgainSchema,
      answer: json<BackgroundState>(),
      async call({ body, now }) {
        if (!(await tryAgain(manager, body.work, body.record, now))) throw Refused.notFound();
        background.wake();
        return backgroundState(manager, now);
      },
    }),
  ];
}
