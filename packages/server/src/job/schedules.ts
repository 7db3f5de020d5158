import { nextRun, type Schedule, type Stream } from '@relvik/core';
import { type DataSource, type EntityManager, In, Not } from 'typeorm';
import { beginRun, carryOnRun } from '../act/stream-run';
import { Refused } from '../problem/refused';
import { StreamRunEntity, StreamScheduleEntity } from '../store/entity/stream-run.entity';
import { charterInForce } from '../store/governing';
import { replaceRows } from '../store/rows';

type Scheduled = Stream & { readonly schedule: Schedule };

/** Begins the runs of streams that are due, and carries on all that run. Runs that were missed are made up for by one. */
export async function runSchedules(source: DataSource, now: () => Date): Promise<void> {
  await beginDue(source, now());
  for (const { id } of await source.manager.find(StreamRunEntity, { where: { running: true }, order: { id: 'ASC' } }))
    await carryOnRun(source, id, now);
}

async function beginDue({ manager }: DataSource, now: Date): Promise<void> {
  const { body } = await charterInForce(manager, 'none');
  const streams = body.streams.filter((one): one is Scheduled => one.on && one.schedule !== undefined);
  const since = await keepSchedules(manager, streams, now);
  for (const stream of streams) {
    const last = await manager.findOne(StreamRunEntity, { where: { stream: stream.key }, order: { id: 'DESC' } });
    const after = Math.max(since.get(stream.key) ?? now.getTime(), last?.startedAt.getTime() ?? 0);
    const due = nextRun(stream.schedule, after, body.timeZone);
    if (due > now.getTime()) continue;
    try {
      await beginRun({ manager }, stream, { due: new Date(due) }, now);
    } catch (error) {
      // It runs already, begun by a person or by another server.
      if (!(error instanceof Refused)) throw error;
    }
  }
}

/**
 * Notes the schedules in force, so that one that is new or was changed begins with its next run.
 *
 * @returns since when each stream has its schedule
 */
async function keepSchedules(
  manager: EntityManager,
  streams: readonly Scheduled[],
  now: Date,
): Promise<Map<string, number>> {
  const known = new Map((await manager.find(StreamScheduleEntity)).map((row) => [row.stream, row]));
  const keys = streams.map(({ key }) => key);
  if ([...known.keys()].some((key) => !keys.includes(key)))
    await manager.delete(StreamScheduleEntity, keys.length === 0 ? {} : { stream: Not(In(keys)) });
  const fresh = streams
    .filter(({ key, schedule }) => JSON.stringify(known.get(key)?.schedule) !== JSON.stringify(schedule))
    .map(({ key, schedule }) => ({ stream: key, schedule, since: now }));
  await replaceRows(manager, StreamScheduleEntity, fresh);
  return new Map([...known.values(), ...fresh].map(({ stream, since }) => [stream, since.getTime()]));
}
