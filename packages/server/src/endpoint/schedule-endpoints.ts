import type { RunPreview, ScheduledStream, StreamRun } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { beginRun, runRow, scheduledStream, stopRun } from '../act/stream-run';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { byId, byKey } from '../http/read';
import type { Background } from '../job/background-worker';
import { previewRun, scheduledStreams } from '../reasoning/stream-runs';

/** Streams that run by schedules: when they run next, what a run would do, and runs that are begun and stopped by hand. */
export function scheduleEndpoints(source: DataSource, background: Background): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/streams/scheduled',
      who: ADMIN,
      answer: json<ScheduledStream[]>(),
      call: ({ now }) => scheduledStreams(manager, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/streams/:key/run-preview',
      who: ADMIN,
      params: byKey,
      answer: json<RunPreview>(),
      call: async ({ params, now }) => previewRun(manager, await scheduledStream(manager, params.key), now),
    }),
    endpoint({
      method: 'post',
      path: '/api/streams/:key/run',
      who: ADMIN,
      params: byKey,
      answer: json<StreamRun>(202),
      async call({ caller, params, now }) {
        const stream = await scheduledStream(manager, params.key);
        const run = await beginRun(source, stream, { hand: { user: caller, at: now } }, now);
        background.wake();
        return runRow(run);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/stream-runs/:id/stop',
      who: ADMIN,
      params: byId,
      answer: json<StreamRun>(),
      call: async ({ params, now }) => runRow(await stopRun(source, params.id, now)),
    }),
  ];
}
