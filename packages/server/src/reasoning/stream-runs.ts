import type { RunPreview, ScheduledStream } from '@relvik/contracts';
import { copyRota, decideInTurn, duringRun, nextRun, type Schedule, type Stream } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { counted } from '../act/give-leads';
import { nextOf, reachOf, runRow } from '../act/stream-run';
import { StreamRunEntity } from '../store/entity/stream-run.entity';
import { charterInForce, readGoverning } from '../store/governing';
import { loadLeads, withTiedValues } from '../store/load-leads';
import { peekRota } from '../store/rota';

/** As many leads are carried through by a preview. */
const CARRIED = 500;

/** The streams in force that have a schedule, with their next and latest runs. */
export async function scheduledStreams(manager: EntityManager, now: Date): Promise<ScheduledStream[]> {
  const { body } = await charterInForce(manager, 'none');
  const found: ScheduledStream[] = [];
  for (const stream of body.streams) {
    const { key, name, on, schedule } = stream;
    if (schedule === undefined) continue;
    const last = await manager.findOne(StreamRunEntity, { where: { stream: key }, order: { id: 'DESC' } });
    found.push({
      stream: key,
      name,
      next: on ? nextOfSchedule(schedule, now, body.timeZone) : null,
      last: last === null ? null : runRow(last),
    });
  }
  return found;
}

function nextOfSchedule(schedule: Schedule, now: Date, zone: string): number {
  return nextRun(schedule, now.getTime(), zone);
}

/** The result of a run if it began now, by the turns and loads of this moment. Nothing is changed. */
export async function previewRun(manager: EntityManager, stream: Stream, now: Date): Promise<RunPreview> {
  const { leads, upto } = await reachOf(manager, stream);
  const governing = await readGoverning(manager, 'none');
  const ids = await nextOf(manager, stream, { from: 0, upto }, CARRIED);
  const loaded = await withTiedValues(manager, await loadLeads(manager, ids, 'none'), governing.ready.rules.lead.tied);
  const decisions = decideInTurn(
    duringRun(governing.ready, stream.key),
    loaded.map(({ record }) => record),
    { ...governing.world, rota: copyRota(await peekRota(manager)) },
    now.getTime(),
    'scheduled',
  );
  return { leads, shown: loaded.length, places: counted(decisions.map(({ place }) => place)) };
}
